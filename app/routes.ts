import { index, type RouteConfig, route } from '@react-router/dev/routes';

export default [
  index('routes/home.tsx'),
  route('gather', 'routes/gather-unplaced.tsx'),
  route('libraries', 'routes/libraries.ts'),
  route('samples/:name', 'routes/sample.ts'),
  route('convert', 'routes/convert.tsx'),
  route('away', 'routes/away.tsx'),
  route('manifest.webmanifest', 'routes/manifest.ts'),
  route('presets', 'routes/presets.ts'),
  route('surround', 'routes/surround.ts'),
  route('libraries/:id/changes', 'routes/changes.ts'),
  route('libraries/:id/rows', 'routes/rows.ts'),
  route('libraries/:id/changes/history', 'routes/history-entries.ts'),
  route('libraries/:id/kits', 'routes/kits.ts'),
  route('libraries/:id/pictures/:picture', 'routes/picture.ts'),
  route('libraries/:id', 'routes/library.tsx', [
    index('routes/library-index.ts'),
    route('gather', 'routes/gather.tsx'),
    route('arrange', 'routes/arrange.tsx'),
    route('hand-over', 'routes/hand-over.tsx'),
    route('history', 'routes/history.tsx'),
  ]),
  route('*', 'routes/nowhere.tsx'),
] satisfies RouteConfig;
