// The type check with `noUncheckedIndexedAccess`, of the parts that keep to it; core and features are to follow.
import { relative } from 'node:path';
import ts from 'typescript';

const KEEPS_TO_IT = /^(server|app\/state|app\/workers|app\/ui|cli|core\/swatch)\/(?!.*\.test\.ts)/;

const { config } = ts.readConfigFile('tsconfig.json', ts.sys.readFile);
const { options, fileNames } = ts.parseJsonConfigFileContent(config, ts.sys, process.cwd());
const program = ts.createProgram(fileNames, { ...options, noUncheckedIndexedAccess: true });
const found = ts
  .getPreEmitDiagnostics(program)
  .filter(({ file }) => file && KEEPS_TO_IT.test(relative(process.cwd(), file.fileName)));
if (found.length > 0) {
  console.error(
    ts.formatDiagnostics(found, {
      getCurrentDirectory: () => process.cwd(),
      getCanonicalFileName: (name) => name,
      getNewLine: () => '\n',
    }),
  );
  process.exit(1);
}
