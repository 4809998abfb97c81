import Button from '@mui/material/Button';
import { zipSync } from 'fflate';
import { useState } from 'react';
import { type BoardPage, type LaidBoard, workKey } from '#core/board/index';
import { conditionOf, toHex } from '#core/color/index';
import { withDensity } from '#core/formats/png/density';
import { type Board, pageText, swatchIndex } from '#core/swatch/index';
import { fileName, freePaths } from '#core/text/names';
import { type DrawnBoard, pressOf } from '~/messages/artwork-messages';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { download } from '~/ui/download';
import { ExportOptions } from '~/ui/export-options';
import { BottomBar } from '~/ui/Frame';
import { jpegOrPng } from '~/ui/jpeg-or-png';
import { NumberField } from '~/ui/number-field';
import { pngOf } from '~/ui/png';
import { Progress } from '~/ui/progress';
import { count } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { useToast } from '~/ui/toast';
import { useJob } from '~/ui/use-job';
import css from './BoardView.module.css';
import { chipPng, printPages } from './take';
import type { BoardState } from './use-board';
import type { ShownWork } from './use-works';

/** What is on a board, and the files it goes out in. */
export function BoardBar({
  state,
  board,
  laid,
  page,
  works,
}: {
  state: BoardState;
  board: Board;
  laid: LaidBoard;
  /** The page that is looked at. */
  page: number;
  works: ReadonlyMap<string, ShownWork>;
}) {
  const { library } = state;
  const { artworks } = useStores();
  const condition = useCondition();
  const toast = useToast();
  const [dpi, setDpi] = useState(150);
  const [bleed, setBleed] = useState(false);
  const [marks, setMarks] = useState(false);
  const [x4, setX4] = useState(false);
  const [chip, setChip] = useState(400);
  const [labels, setLabels] = useState(true);
  const { job, start, stop } = useJob(() => artworks.client.stopAll());
  /** Artwork of the board that is not shown, as it is still being opened or cannot be. */
  const unseen = [
    ...new Set(
      laid.pages
        .flatMap((p) => p.marks)
        .flatMap((m) => (m.is === 'work' && !works.has(workKey(m.work, m.colorway)) ? [m.work] : [])),
    ),
  ].map((id) => library.items?.find((i) => i.id === id)?.name ?? 'artwork');
  const run = (what: string, make: (stage: (text: string) => void) => Promise<void>) =>
    start(
      'Making the file',
      async ({ stage }) => {
        stage(what);
        await make(stage);
        if (unseen.length > 0)
          toast({
            text: `Left out: ${unseen.join(', ')}. The artwork is not open; see Apply, or try again.`,
            stays: true,
          });
      },
      (why) => `${what} was not made: ${why}`,
    );
  const name = board.name || 'Board';

  /** The board with its pictures and works, to be drawn elsewhere. */
  const drawn = async (): Promise<DrawnBoard> => {
    const all = laid.pages.flatMap((p) => p.marks);
    const index = swatchIndex(library);
    const ids = new Set(all.flatMap((m) => (m.is === 'gradient' ? m.gradient.refs : [])));
    const pictures = new Set(all.flatMap((m) => (m.is === 'picture' ? [m.picture] : [])));
    return {
      ...{ pages: laid.pages, ground: laid.ground, printsGround: laid.printsGround, title: name },
      press: pressOf(library, conditionOf(library)),
      swatches: [...ids].flatMap((id) => index.get(id)?.swatch ?? []),
      works: [...works.values()].map(({ work, colorway, hash, made, shown }) => ({
        ...{ work, colorway, hash, made, shown },
      })),
      pictures: await Promise.all(
        [...pictures].map(async (id) => ({ id, copy: await pictureOf(state.pictureUrl(id)) })),
      ),
    };
  };
  const svgs = async (outlines: boolean) =>
    artworks.client.ask('boardSvg', { board: await drawn(), outlines });
  /** Several pages are a zip. */
  const take = (files: { name: string; bytes: Uint8Array<ArrayBuffer> }[], mime: string, ending: string) => {
    const [only] = files;
    if (files.length === 1) download(fileName(name, ending), only!.bytes, mime);
    else
      download(
        fileName(name, 'zip'),
        zipSync(Object.fromEntries(files.map((f) => [f.name, f.bytes]))) as Uint8Array<ArrayBuffer>,
        'application/zip',
      );
  };
  const pageName = (i: number, ending: string) => fileName(`${name} ${i + 1}`, ending);
  const svg = () =>
    run('The SVG', async () => {
      const pages = await svgs(false);
      const files = await Promise.all(
        pages.map(async (p, i) => ({
          name: pageName(i, 'svg'),
          bytes: new Uint8Array(await p.arrayBuffer()),
        })),
      );
      take(files, 'image/svg+xml', 'svg');
    });
  const rasters = async (pages: readonly BoardPage[]) => {
    const drawings = await svgs(true);
    const made: Uint8Array<ArrayBuffer>[] = [];
    for (const one of pages) {
      const { width, height } = one;
      const [w, h] = [width, height].map((v) => Math.max(1, Math.round((v / 25.4) * dpi))) as [
        number,
        number,
      ];
      made.push(withDensity(await pngOf(drawings[laid.pages.indexOf(one)]!, w, h), dpi));
    }
    return made;
  };
  const png = () =>
    run('The PNG', async () => {
      const made = await rasters(laid.pages);
      take(
        made.map((bytes, i) => ({ name: pageName(i, 'png'), bytes })),
        'image/png',
        'png',
      );
    });
  const pdf = () =>
    run('The PDF', async () => {
      const { bytes, warnings } = await artworks.client.ask('boardPdf', {
        board: await drawn(),
        ...{ bleed, marks, x4 },
      });
      download(fileName(name, 'pdf'), bytes, 'application/pdf');
      if (warnings.length > 0) toast({ text: warnings.join(' '), stays: true });
    });
  const colors = colorsOn(laid);
  const chips = () =>
    run('The chips', async () => {
      const free = freePaths();
      const files: Record<string, Uint8Array> = {};
      for (const { color, name } of colors) {
        const hex = toHex(color, condition);
        const label = name || hex.toUpperCase();
        files[free(fileName(label, 'png'))] = await chipPng(
          hex,
          chip,
          labels ? [label, hex.toUpperCase()] : [],
        );
      }
      download(
        fileName(`${name} chips`, 'zip'),
        zipSync(files) as Uint8Array<ArrayBuffer>,
        'application/zip',
      );
    });
  const copyText = () => {
    const lines = colors.map(({ color, name }) =>
      [name, toHex(color, condition).toUpperCase()].filter(Boolean).join('\t'),
    );
    void navigator.clipboard.writeText(lines.join('\n')).then(
      () => toast({ text: `${count(lines.length, 'colour')} copied as text.` }),
      () => toast({ text: 'The browser does not allow copying here.', stays: true }),
    );
  };
  const copyPicture = () =>
    run('The picture', async () => {
      const [first] = await rasters(laid.pages.slice(page, page + 1));
      await navigator.clipboard.write([
        new ClipboardItem({ 'image/png': new Blob([first!], { type: 'image/png' }) }),
      ]);
      toast({ text: 'The page was copied as a picture.' });
    });
  const print = () => run('The print', async () => printPages(await svgs(true), laid.pages[0]!));
  const { objects } = board.data;
  const kinds = [
    count(colors.length, 'colour'),
    ...(['picture', 'gradient', 'work'] as const).flatMap((of) => {
      const n = objects.filter((o) => o.of === of).length;
      return n > 0 ? [count(n, { picture: 'picture', gradient: 'gradient', work: 'artwork' }[of])] : [];
    }),
  ];
  const { width, height } = laid.pages[0]!;
  const mm = (v: number) => Number(v.toFixed(1));
  return (
    <BottomBar label="Download the board">
      <strong>Board</strong>
      <span className={`caption cut ${css.facts}`} role="status">
        {[
          kinds.join(', '),
          pageText(board.data.page),
          `${mm(width)} × ${mm(height)} mm`,
          laid.pages.length > 1 && count(laid.pages.length, 'page'),
        ]
          .filter(Boolean)
          .join(' · ')}
      </span>
      <ExportOptions>
        <NumberField
          label="PNG: pixels to an inch"
          value={dpi}
          min={10}
          max={1200}
          step={10}
          onChange={setDpi}
        />
        <Tick checked={bleed} onChange={setBleed} label="PDF: 3 mm of bleed" />
        <Tick checked={marks} onChange={setMarks} label="PDF: marks where it is cut" />
        <Tick checked={x4} onChange={setX4} label="PDF/X-4: with the profile it is printed on" />
        <NumberField
          label="Chips: pixels wide"
          value={chip}
          min={16}
          max={4000}
          step={10}
          onChange={setChip}
        />
        <Tick checked={labels} onChange={setLabels} label="Chips: with name and code" />
        <div className={css.row}>
          <Button onClick={() => void copyPicture()}>Copy as picture</Button>
          <Button onClick={copyText}>Copy as text</Button>
          <Button onClick={() => void print()}>Print…</Button>
        </div>
      </ExportOptions>
      <Button disabled={!!job || colors.length === 0} onClick={() => void chips()}>
        Chips as PNG
      </Button>
      <Button disabled={!!job} onClick={() => void svg()}>
        SVG
      </Button>
      <Button disabled={!!job} onClick={() => void png()}>
        PNG
      </Button>
      <Button variant="contained" disabled={!!job} onClick={() => void pdf()}>
        PDF with separations
      </Button>
      {job && <Progress {...job} onStop={stop} />}
    </BottomBar>
  );
}

/** The colours on a board, each once, in order. */
function colorsOn({ pages }: LaidBoard) {
  const found = new Map<string, { color: Parameters<typeof toHex>[0]; name: string }>();
  for (const { marks } of pages)
    for (const m of marks)
      if (m.is === 'area') {
        const { color, name } = m.swatch;
        found.set(`${name} ${color.space} ${color.components}`, { color, name });
      }
  return [...found.values()];
}

/** A kept picture as a PDF takes it in: a JPEG or a PNG. */
async function pictureOf(url: string): Promise<Blob> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('a picture could not be fetched. Check the connection.');
  return jpegOrPng(await response.blob());
}
