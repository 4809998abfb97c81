import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import { measures, surrounds } from '../theme/tokens.ts';

// What the type check cannot see: that every class a component asks for is in its style sheet, and none is there for nobody.
const root = resolve('app');
const files = readdirSync(root, { recursive: true, encoding: 'utf8' });
const read = (path: string) => readFileSync(join(root, path), 'utf8');
const camel = (name: string) => name.replace(/-(\w)/g, (_, c: string) => c.toUpperCase());

/** The classes of a style sheet, as components call them. */
const classesOf = (css: string) =>
  new Set(
    [
      ...css
        .replace(/\/\*[\s\S]*?\*\//g, '')
        .replace(/"[^"]*"/g, '')
        .matchAll(/\.([a-z][\w-]*)/g),
    ].map((m) => camel(m[1]!)),
  );
const sheets = new Map(
  files.filter((f) => f.endsWith('.module.css')).map((f) => [resolve(root, f), classesOf(read(f))]),
);
const used = new Map<string, Set<string>>();
const unknown: string[] = [];
for (const file of files.filter((f) => f.endsWith('.tsx'))) {
  const text = read(file);
  for (const [, name, path] of text.matchAll(/import (\w+) from '([^']*\.module\.css)'/g)) {
    const sheet = path!.startsWith('~') ? join(root, path!.slice(2)) : resolve(root, dirname(file), path!);
    const all = used.get(sheet) ?? new Set();
    used.set(sheet, all);
    for (const [, asked] of text.matchAll(new RegExp(`\\b${name}\\.(\\w+)`, 'g'))) {
      all.add(asked!);
      if (!sheets.get(sheet)?.has(asked!)) unknown.push(`${file}: ${name}.${asked}`);
    }
    // looks and sides are asked for by a value
    if (text.includes(`${name}[`)) for (const c of sheets.get(sheet) ?? []) all.add(c);
  }
}
for (const file of files.filter((f) => f.endsWith('.module.css')))
  for (const [, name, path] of read(file).matchAll(/composes: ([\w-]+) from "([^"]*)"/g)) {
    const sheet = resolve(root, dirname(file), path!);
    used.set(sheet, (used.get(sheet) ?? new Set()).add(camel(name!)));
  }

describe('style sheets', () => {
  it('have every class that is asked for', () => {
    expect(unknown).toEqual([]);
  });

  it('have no class that nobody asks for', () => {
    const idle = [...sheets].flatMap(([sheet, classes]) =>
      [...classes].filter((c) => !used.get(sheet)?.has(c)).map((c) => `${relative(root, sheet)}: ${c}`),
    );
    expect(idle).toEqual([]);
  });

  it('take their colours and shared sizes from the tokens alone', () => {
    const kebab = (name: string) => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);
    const { label: _, ...greys } = surrounds.light;
    const known = new Set(
      [...Object.keys(greys), ...Object.keys(measures)].map((name) => `--${kebab(name)}`),
    );
    const odd: string[] = [];
    for (const file of files.filter((f) => f.endsWith('.css'))) {
      const css = read(file);
      for (const own of css.matchAll(/^\s*(--[\w-]+):/gm)) known.add(own[1]!);
      for (const [, name] of css.matchAll(/var\((--[\w-]+)/g))
        if (!known.has(name!) && name !== '--ratio') odd.push(`${file}: ${name}`);
      // black and white lie on swatches and pictures, whose colours no surround changes
      for (const [color] of css.replace(/\/\*[\s\S]*?\*\//g, '').matchAll(/#[0-9a-f]{3,8}\b/gi))
        if (!/^#(000|fff)/i.test(color)) odd.push(`${file}: ${color}`);
    }
    expect(odd).toEqual([]);
  });
});
