import { describe, expect, it } from 'vitest';
import { parseJson } from './json.ts';

describe('JSON', () => {
  it('tells line and column of a slip', () => {
    expect(() => parseJson('{\n  "a": 1,\n  "b": }\n')).toThrow(/^line 3, column 8: the JSON is damaged/);
    expect(() => parseJson('')).toThrow(/line 1, column 1/);
  });

  it('is refused when it is deeper than a stack, but not for brackets in a string', () => {
    expect(() => parseJson('['.repeat(5000))).toThrow(/line 1, column 1001: values lie more than 1000 deep/);
    expect(parseJson(JSON.stringify({ a: '['.repeat(5000), b: '\\"[' }))).toMatchObject({ b: '\\"[' });
  });
});
