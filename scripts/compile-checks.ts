import standalone from 'ajv/dist/standalone/index.js';
import type { Checker } from '../core/checker.ts';

// one of CommonJS's own, whatever its types say
const { default: standaloneCode } = standalone as unknown as typeof import('ajv/dist/standalone/index.js');

/**
 * The code of a module that exports checks and nothing else: what Ajv would make of their schemas where it runs.
 *
 * @param file for messages
 * @param shape the path of core/shape.ts
 */
export function compileChecks(
  module: Record<string, Partial<Checker<unknown>>>,
  file: string,
  shape: string,
): string {
  const names: Record<string, string> = {};
  for (const [name, { schema, ajv }] of Object.entries(module)) {
    if (!schema || !ajv)
      throw new Error(
        `${file} exports ${name}, which is no check; files called checks.ts hold nothing else.`,
      );
    names[`validate_${name}`] = `check-${name}`;
    ajv.addSchema(schema, `check-${name}`);
  }
  const [{ ajv }] = Object.values(module);
  const code = standaloneCode(ajv!, names)
    .replaceAll('require("ajv/dist/runtime/ucs2length").default', 'lengthOf')
    .replace(/\bexport const validate_/g, 'const validate_');
  const needs = /\brequire\([^)]*\)/.exec(code);
  if (needs) throw new Error(`${file}: the compiled checks need ${needs[0]}.`);
  const checks = Object.keys(module).map((name) => `export const ${name} = checkBy(() => validate_${name});`);
  return [`import { checkBy, lengthOf } from ${JSON.stringify(shape)};`, code, ...checks, ''].join('\n');
}
