import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import ts from 'typescript';
import { expect, it } from 'vitest';

const APP = resolve('app');

/** The folders of the app from the bottom up; a folder imports from those below its own floor alone, types included. */
const FLOORS = [
  ['theme', 'messages'],
  ['api'],
  ['colors'],
  ['ui'],
  ['workers'],
  ['state'],
  ['features/shared'],
  // no feature imports another
  readdirSync(join(APP, 'features'))
    .filter((name) => name !== 'shared')
    .map((name) => `features/${name}`),
  ['routes'],
];

const sources = readdirSync(APP, { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.tsx?$/.test(file))
  // what React Router generates for a route stands beside it
  .filter((file) => !file.includes('+types'));
/** The folder of a file; '' for the files of the app itself, which stand above all. */
const folderOf = (file: string) => /^(?:features\/)?[^/]+(?=\/)/.exec(file)?.[0] ?? '';
const floorOf = (folder: string) => FLOORS.findIndex((floor) => floor.includes(folder));

/** The files of the app that a source imports. */
function importsOf(file: string): string[] {
  const { importedFiles } = ts.preProcessFile(readFileSync(join(APP, file), 'utf8'), true, true);
  return importedFiles.flatMap(({ fileName }) => {
    if (!/^(~\/|\.)/.test(fileName)) return [];
    const path = fileName.startsWith('~/')
      ? join(APP, fileName.slice(2))
      : resolve(APP, dirname(file), fileName);
    return path.startsWith(APP) && !fileName.includes('+types') ? [relative(APP, path)] : [];
  });
}

const CORE = resolve('core');
/** Where core meets every reader and writer of a format, and what stands for it in a page: data that the build makes. */
const [REGISTRY, FACTS] = ['registry.ts', 'facts.ts'].map((name) => join(CORE, 'formats', name));

/** The files that are loaded with one: no types, and nothing that is imported only when it is needed. */
function loadedWith(file: string): string[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest);
  return source.statements.flatMap((statement) => {
    if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) return [];
    const from = statement.moduleSpecifier;
    if (!from || !ts.isStringLiteral(from)) return [];
    if (ts.isExportDeclaration(statement) ? statement.isTypeOnly : statement.importClause?.isTypeOnly)
      return [];
    const path = from.text.startsWith('~/')
      ? join(APP, from.text.slice(2))
      : from.text.startsWith('#core/')
        ? join(CORE, from.text.slice(6))
        : from.text.startsWith('.')
          ? resolve(dirname(file), from.text)
          : '';
    return ['', '.ts', '.tsx']
      .map((ending) => path + ending)
      .filter((p) => /\.tsx?$/.test(p) && existsSync(p));
  });
}

it('a page loads no reader or writer of a format', () => {
  const from = new Map<string, string>();
  const queue = sources
    .filter((file) => /^(ui|state|features)\//.test(file) && !file.includes('.test.'))
    .map((file) => join(APP, file));
  for (let file = queue.pop(); file; file = queue.pop())
    for (const next of file === FACTS ? [] : loadedWith(file))
      if (!from.has(next)) {
        from.set(next, file);
        queue.push(next);
      }
  const way: string[] = [];
  for (
    let file: string | undefined = from.has(REGISTRY!) ? REGISTRY : undefined;
    file;
    file = from.get(file)
  ) {
    if (way.includes(file)) break;
    way.unshift(relative('.', file));
  }
  expect(way).toEqual([]);
  // and it does come to the facts
  expect(from.has(FACTS!)).toBe(true);
});

it('every folder of the app has a floor', () => {
  const folders = new Set(sources.map(folderOf).filter((folder) => folder !== ''));
  expect([...folders].filter((folder) => floorOf(folder) < 0)).toEqual([]);
  expect(FLOORS.flat().filter((folder) => !existsSync(join(APP, folder)))).toEqual([]);
});

it('a folder imports from lower floors alone', () => {
  const upward = sources.flatMap((file) => {
    const from = folderOf(file);
    if (from === '') return [];
    return importsOf(file)
      .filter(
        (path) =>
          folderOf(path) !== from &&
          !(floorOf(folderOf(path)) < floorOf(from) && floorOf(folderOf(path)) >= 0),
      )
      .map((path) => `${file} imports ${path}`);
  });
  expect(upward).toEqual([]);
});
