import { nanoid } from 'nanoid';
import { conditionOf, screenOnly } from '#core/color/condition';
import type { Color } from '#core/color/model';
import { convert } from '#core/color/spaces';
import { COPY_BYTES, COPY_SIDE } from '#core/picture/limits';
import type { PaletteColor } from '#core/picture/reduce';
import { newTake, resized, type Take } from '#core/picture/take';
import { same } from '#core/swatch/change';
import { forgetPicture, keepPicture, readPicture, saveTakes } from '~/api/assets';
import { call, valueFrom } from '~/api/call';
import { Colors } from '~/colors/colors';
import type { OpenedPicture } from '~/messages/picture-messages';
import { openPictureClient, type PictureClient } from '~/workers/clients';
import { SavedStore } from './saved-store';
import type { KeptHere, KeptTake, Shelf, ShelfNews } from './shelf';
import { type Steps, StepsOf } from './steps';

export interface OpenPicture {
  id: string;
  name: string;
  /** Null until it is needed. */
  file: Blob | null;
  /** Set once the picture is decoded. */
  opened: OpenedPicture | null;
  /** What is being done, while it is. */
  stage: string | null;
  problem: string | null;
  /** The library a copy is kept with. */
  keptIn: string | null;
  /** Of that copy, px; null when this is it. */
  copy: { width: number; height: number } | null;
}

/** The takes of one picture, of which one is worked on. */
export interface Board {
  takes: Take[];
  current: string;
}

export interface PictureState {
  pictures: OpenPicture[];
  /** Which picture is shown: an id, or {@link ALL} of them as one. */
  shown: string | null;
  /** By picture id, or {@link ALL}. */
  boards: Record<string, Board>;
  /** Why keeping a picture did not work. */
  problem: string | null;
}

/** A picture that is kept with a library, as the library's page knows it. */
export interface KeptPicture {
  id: string;
  name: string;
  takes: Take[];
}

/** Several pictures taken together as one. */
export const ALL = 'all';

/** This many pictures, and this many bytes of them, are open at once. */
const MAX_OPEN_PICTURES = 24;
const MAX_BYTES = 600 * 1024 * 1024;
const AGAIN_MS = 5000;
/** What of the pictures is this page's alone: the one shown, and the take worked on of each. */
const PAGE = 'papillon-pictures';

const keyOf = (picture: string, take: string) => `${picture} ${take}`;

const emptyBoard = (): Board => {
  const take = newTake(nanoid(8));
  return { takes: [take], current: take.id };
};

/** A take as it was kept; null when it was by a version whose takes no longer fit. */
async function soundTake(take: unknown, colors: ColorSource): Promise<Take | null> {
  // the check is large, and no use to a page without pictures
  const { checkTakes } = await import('#core/picture/checks');
  let sound: Take | undefined;
  try {
    [sound] = checkTakes([take]);
  } catch {
    return null;
  }
  return sound ? withoutInks(sound, colors) : null;
}

type ColorSource = Pick<Colors, 'condition'>;

/** Earlier versions held inks as they were typed; a picture is of screen colours, and holds what they show. */
async function withoutInks(take: Take, colors: ColorSource): Promise<Take> {
  const lists = [take.recipe.held, take.names, take.colors];
  if (!lists.some((list) => list.some(({ color }) => screenOnly.isDevice(color)))) return take;
  const condition = await colors.condition(conditionOf({}));
  const shown = <T extends { color: Color }>(list: T[]): T[] =>
    list.map((one) => ({
      ...one,
      color: screenOnly.isDevice(one.color) ? convert(one.color, 'rgb', condition) : one.color,
    }));
  return {
    ...take,
    recipe: { ...take.recipe, held: shown(take.recipe.held) },
    names: shown(take.names),
    colors: shown(take.colors),
  };
}

/** A picture's takes as they were kept, in their order; null when there are none. */
async function boardOf(picture: string, kept: KeptTake[], colors: ColorSource): Promise<Board | null> {
  const own = kept.filter((t) => t.picture === picture).sort((a, b) => a.at - b.at);
  const takes = (await Promise.all(own.map((t) => soundTake(t.take, colors)))).flatMap((take) => take ?? []);
  return takes.length > 0 ? { takes, current: takes[0]!.id } : null;
}

/**
 * The pictures colours are being gathered from, and their takes. They stay on this machine, survive a reload there, and are the
 * same in all pages of this browser; a copy goes to the server only when the user keeps a picture with a library.
 *
 * Each picture's file is written down once, when it is opened, and each take by itself when it has changed.
 */
export class PictureStore extends SavedStore<PictureState> {
  private worker: PictureClient | null = null;
  /** Boards whose takes are not with the library yet, and takes that are not written down. */
  private readonly unsent = new Set<string>();
  private readonly unwritten = new Set<string>();
  private readonly openedAt = new Map<string, number>();
  private roomless = false;
  private readonly steps = new StepsOf<Take>();

  constructor(
    private readonly shelf: Shelf,
    private readonly openClient: () => PictureClient = openPictureClient,
    private readonly send: typeof fetch = (...args) => fetch(...args),
    private readonly colors: ColorSource = new Colors(),
  ) {
    super({ pictures: [], shown: null, boards: {}, problem: null });
  }

  private get state(): PictureState {
    return this.snapshot();
  }

  /** The worker that has the pixels. */
  get client(): PictureClient {
    this.worker ??= this.openClient();
    return this.worker;
  }

  /** Brings back what was open before a reload, and keeps in step with other pages of this browser. */
  async restore(earlier?: unknown): Promise<void> {
    this.shelf.listen((news) => void this.follow(news));
    if (earlier) await this.bringOver(earlier);
    const [pictures, takes] = await Promise.all([this.shelf.all('pictures'), this.shelf.all('takes')]);
    if (this.state.pictures.length > 0 || pictures.length === 0) return;
    const page = readPage();
    const kept = pictures.sort((a, b) => a.at - b.at);
    const boards: Record<string, Board> = {};
    for (const { id } of [...kept, { id: ALL }]) {
      const board = await boardOf(id, takes, this.colors);
      const current = page.current[id];
      if (board)
        boards[id] = current && board.takes.some((t) => t.id === current) ? { ...board, current } : board;
      else if (id !== ALL) boards[id] = emptyBoard();
    }
    if (this.state.pictures.length > 0) return;
    const there = kept.some((p) => p.id === page.shown) || (page.shown === ALL && kept.length > 1);
    for (const { id, at } of kept) this.openedAt.set(id, at);
    this.set({
      pictures: kept.map((p) => closed(p)),
      shown: there ? page.shown : kept[0]!.id,
      boards,
    });
    for (const { id } of kept) void this.decode(id);
  }

  /** What an earlier version had kept, all in one, is put on the shelves. */
  private async bringOver(earlier: unknown): Promise<void> {
    const { pictures = [], boards = {} } = (earlier ?? {}) as {
      pictures?: (Omit<KeptHere, 'at'> & { file?: unknown })[];
      boards?: Record<string, Board>;
    };
    if (!Array.isArray(pictures)) return;
    for (const [at, { id, name, file, keptIn, copy }] of pictures.entries()) {
      if (!(file instanceof Blob)) continue;
      await this.shelf.put('files', file, id);
      await this.shelf.put('pictures', { id, name, keptIn, copy, at } satisfies KeptHere);
      for (const [i, take] of (boards[id]?.takes ?? []).entries())
        await this.shelf.put('takes', {
          key: keyOf(id, take.id),
          picture: id,
          at: i,
          take,
        } satisfies KeptTake);
    }
  }

  /** Takes over what another page of this browser has done. */
  private async follow({ shelf, key, gone }: ShelfNews): Promise<void> {
    if (shelf === 'pictures') {
      if (gone) {
        this.drop(key);
        return;
      }
      const kept = await this.shelf.get('pictures', key);
      if (!kept) return;
      if (this.state.pictures.some((p) => p.id === key)) {
        this.mark(key, { keptIn: kept.keptIn, copy: kept.copy });
        return;
      }
      this.openedAt.set(key, kept.at);
      const takes = await this.shelf.all('takes');
      const board = (await boardOf(key, takes, this.colors)) ?? emptyBoard();
      const { pictures, boards, shown } = this.state;
      if (pictures.some((p) => p.id === key)) return;
      // it is opened when it is shown: each page that has it open needs room for it
      this.set({
        pictures: [...pictures, { ...closed(kept), stage: null }],
        boards: { ...boards, [key]: boards[key] ?? board },
      });
      if (shown === null) this.show(key);
    }
    if (shelf !== 'takes' || this.unwritten.has(key)) return;
    const [picture = '', id] = key.split(' ');
    if (!this.state.boards[picture]) return;
    const kept = gone ? undefined : await this.shelf.get('takes', key);
    const take = kept && (await soundTake(kept.take, this.colors));
    const board = this.state.boards[picture];
    if (!board) return;
    // two pages that show the same take tell each other of the same result
    if (
      this.unwritten.has(key) ||
      same(
        take,
        board.takes.find((t) => t.id === id),
      )
    )
      return;
    const others = board.takes.filter((t) => t.id !== id);
    const at = Math.min(kept?.at ?? 0, others.length);
    const takes = take ? [...others.slice(0, at), take, ...others.slice(at)] : others;
    if (takes.length === 0) return;
    const current = takes.some((t) => t.id === board.current) ? board.current : takes[0]!.id;
    this.set({ boards: { ...this.state.boards, [picture]: { takes, current } } });
  }

  /** Opens pictures, shows the first of them, and leaves those open that are. */
  open(files: { file: Blob; name: string }[]): void {
    const there = this.state.pictures.filter((p) => !p.problem);
    let bytes = there.reduce((n, p) => n + (p.file?.size ?? 0), 0);
    const wanted = files.filter(({ file }, i) => {
      bytes += file.size;
      return there.length + i < MAX_OPEN_PICTURES && bytes <= MAX_BYTES;
    });
    const left = files.length - wanted.length;
    if (left > 0)
      this.set({
        problem: `${left === 1 ? `${files.at(-1)?.name} was` : `${left} pictures were`} not opened: the limit of open pictures is reached (${MAX_OPEN_PICTURES}, or ${Math.round(MAX_BYTES / 1e6)} MB). Close some first.`,
      });
    if (wanted.length === 0) return;
    const added = wanted.map(({ file, name }) => ({
      ...closed({ id: nanoid(8), name, keptIn: null, copy: null, at: 0 }),
      file,
    }));
    this.add(added, {});
  }

  /** Opens the copy that a library keeps, with its takes. */
  async openKept(library: string, { id, name, takes: asKept }: KeptPicture): Promise<void> {
    if (this.state.pictures.some((p) => p.id === id)) {
      this.show(id);
      return;
    }
    const came = await call(readPicture, { params: { id: library, picture: id } }, this.send);
    if (!came.ok) {
      this.set({
        problem:
          came.status === 404
            ? `${name} is no longer kept with the library.`
            : 'The picture cannot be fetched. Check the connection and try again.',
      });
      return;
    }
    const one = { ...closed({ id, name, keptIn: library, copy: null, at: 0 }), file: came.value };
    const takes = await Promise.all(asKept.map((take) => withoutInks(take, this.colors)));
    this.add([one], takes.length > 0 ? { [id]: { takes, current: takes[0]!.id } } : {});
  }

  private add(added: OpenPicture[], boards: Record<string, Board>): void {
    // what did not open is in the way of what will
    const sound = this.state.pictures.filter((p) => !p.problem);
    this.set({
      pictures: [...sound, ...added],
      shown: added[0]!.id,
      boards: {
        ...this.state.boards,
        ...Object.fromEntries(added.map(({ id }) => [id, emptyBoard()])),
        ...boards,
      },
    });
    let at = Math.max(0, ...this.openedAt.values());
    for (const { id, file } of added) {
      this.openedAt.set(id, ++at);
      // the takes go before the picture, so that other pages find both
      this.writeTakes(id);
      void this.writePicture(id, file);
      void this.decode(id);
    }
    this.save();
  }

  /** Writes a picture down: its file once, before it is announced. */
  private async writePicture(id: string, file: Blob | null): Promise<void> {
    if (file) this.told(await this.shelf.put('files', file, id));
    const picture = this.state.pictures.find((p) => p.id === id);
    if (!picture || picture.problem) return;
    const { name, keptIn, copy } = picture;
    const kept: KeptHere = { id, name, keptIn, copy, at: this.openedAt.get(id) ?? 0 };
    this.told(await this.shelf.put('pictures', { ...kept }));
  }

  /** Writes takes down, each by itself: all of a picture's, or those among some. */
  private writeTakes(picture: string, among?: ReadonlySet<string>): void {
    for (const [at, take] of (this.state.boards[picture]?.takes ?? []).entries()) {
      const key = keyOf(picture, take.id);
      if (among && !among.has(key)) continue;
      void this.shelf
        .put('takes', { key, picture, at, take } satisfies KeptTake)
        .then((safe) => this.told(safe));
    }
  }

  /** Says once when this browser has no room: it works on, without surviving a reload. */
  private told(safe: boolean): void {
    if (safe || this.roomless) return;
    this.roomless = true;
    this.set({
      problem:
        'This browser has no room to keep the pictures through a reload. They stay open until then; close some, or keep them with the library.',
    });
  }

  show(id: string): void {
    const boards = this.state.boards[id] ? this.state.boards : { ...this.state.boards, [id]: emptyBoard() };
    this.set({ shown: id, boards });
    for (const p of this.state.pictures)
      if ((p.id === id || id === ALL) && !p.opened && !p.stage && !p.problem) void this.decode(p.id);
    this.save();
  }

  close(id: string): void {
    const takes = this.state.boards[id]?.takes ?? [];
    this.drop(id);
    void this.shelf.drop('takes', ...takes.map((t) => keyOf(id, t.id)));
    void this.shelf.drop('files', id);
    void this.shelf.drop('pictures', id);
    this.save();
  }

  /** Closes it in this page. */
  private drop(id: string): void {
    if (!this.state.pictures.some((p) => p.id === id)) return;
    const pictures = this.state.pictures.filter((p) => p.id !== id);
    const { [id]: _, ...boards } = this.state.boards;
    const gone = this.state.shown === id || (this.state.shown === ALL && pictures.length < 2);
    this.openedAt.delete(id);
    this.set({ pictures, boards, shown: gone ? (pictures[0]?.id ?? null) : this.state.shown });
    // a picture that is still being decoded would hold the worker up
    if (pictures.length === 0) {
      // those who ask only for the latest have to hear, or they would wait for ever
      this.worker?.close('The picture was closed.');
      this.worker = null;
    } else this.client.ask('shut', { id }).catch(() => undefined);
  }

  // --- takes

  /** Changes the take that is worked on. */
  change(source: string, next: (take: Take) => Take): void {
    const before = this.takeOf(source);
    this.replace(source, next);
    const after = this.takeOf(source);
    if (before && after && !same(before, after)) this.stepsOf(source).note(before, performance.now());
  }

  private replace(source: string, next: (take: Take) => Take): void {
    this.board(source, ({ takes, current }) => ({
      takes: takes.map((t) => (t.id === current ? next(t) : t)),
      current,
    }));
  }

  private takeOf(source: string): Take | undefined {
    const board = this.state.boards[source];
    return board?.takes.find((t) => t.id === board.current);
  }

  /** The steps of the take that is worked on. */
  stepsOf(source: string): Steps<Take> {
    return this.steps.of(keyOf(source, this.takeOf(source)?.id ?? ''));
  }

  /** Goes one step back, or on, in the take that is worked on. Returns whether there was one. */
  step(source: string, way: 'back' | 'on'): boolean {
    const present = this.takeOf(source);
    const other = present && this.stepsOf(source)[way](present, performance.now());
    if (!other) return false;
    // what it came to is found again
    this.replace(source, (take) => ({ ...other, colors: take.colors, mean: take.mean }));
    return true;
  }

  /** Keeps what a take came to. */
  keepResult(source: string, id: string, colors: PaletteColor[], mean: number | null): void {
    this.board(source, (board) => {
      const take = board.takes.find((t) => t.id === id);
      if (!take || (take.mean === mean && same(take.colors, colors))) return board;
      return { ...board, takes: board.takes.map((t) => (t.id === id ? { ...t, colors, mean } : t)) };
    });
  }

  /** A new take that begins like the one worked on. */
  addTake(source: string): void {
    this.board(source, ({ takes, current }) => {
      const id = nanoid(8);
      const like = takes.find((t) => t.id === current) ?? newTake(id);
      return { takes: [...takes, { ...like, id, name: '' }], current: id };
    });
  }

  chooseTake(source: string, id: string): void {
    this.board(source, (board) => ({ ...board, current: id }));
  }

  renameTake(source: string, id: string, name: string): void {
    this.board(source, (board) => ({
      ...board,
      takes: board.takes.map((t) => (t.id === id ? { ...t, name } : t)),
    }));
  }

  /** Takes one away; the last one cannot go. Gives back what brings it back. */
  removeTake(source: string, id: string): () => void {
    const before = this.state.boards[source];
    void this.shelf.drop('takes', keyOf(source, id));
    this.board(source, ({ takes, current }) => {
      if (takes.length < 2) return { takes, current };
      const at = takes.findIndex((t) => t.id === id);
      const left = takes.filter((t) => t.id !== id);
      return { takes: left, current: current === id ? left[Math.min(at, left.length - 1)]!.id : current };
    });
    return () => {
      const gone = before!.takes.find((t) => t.id === id);
      if (gone)
        this.board(source, ({ takes }) => {
          const at = before!.takes.indexOf(gone);
          return { takes: [...takes.slice(0, at), gone, ...takes.slice(at)], current: id };
        });
    };
  }

  private board(source: string, next: (board: Board) => Board): void {
    const board = this.state.boards[source];
    if (!board) return;
    const changed = next(board);
    if (changed === board) return;
    this.set({ boards: { ...this.state.boards, [source]: changed } });
    const before = new Set(board.takes);
    // one that goes or comes back changes the places of those behind it
    const moved = changed.takes.some((t, i) => t.id !== board.takes[i]?.id);
    for (const take of changed.takes)
      if (moved || !before.has(take)) this.unwritten.add(keyOf(source, take.id));
    if (changed.takes !== board.takes) this.unsent.add(source);
    this.save();
  }

  // --- keeping

  /** Keeps a copy of at most 1600 px and the takes with a library. Returns whether it worked. */
  async keep(library: string, id: string): Promise<boolean> {
    const picture = this.state.pictures.find((p) => p.id === id);
    if (!picture) return false;
    try {
      const { copy, width, height } = await this.client.ask('copy', {
        id,
        side: COPY_SIDE,
        bytes: COPY_BYTES,
      });
      const form = new FormData();
      this.mark(id, { copy: { width, height } });
      form.set('about', JSON.stringify({ name: picture.name, width, height, takes: this.takesOfCopy(id) }));
      form.set('copy', copy);
      await valueFrom(call(keepPicture, { params: { id: library, picture: id }, body: form }, this.send));
      this.mark(id, { keptIn: library });
      void this.writePicture(id, null);
      return true;
    } catch (error) {
      this.set({ problem: `${picture.name} could not be kept: ${(error as Error).message}` });
      return false;
    }
  }

  /** Takes the copy out of the library; the picture stays open here. */
  async forget(library: string, id: string): Promise<boolean> {
    const came = await call(forgetPicture, { params: { id: library, picture: id } }, this.send);
    if (!came.ok) {
      this.set({
        problem: 'The picture could not be removed from the library. Check the connection and try again.',
      });
      return false;
    }
    this.mark(id, { keptIn: null, copy: null });
    void this.writePicture(id, null);
    return true;
  }

  /** Shows what went wrong with the pictures. */
  readonly report = (error: Error): void => {
    this.set({ problem: error.message });
  };

  clearProblem(): void {
    this.set({ problem: null });
  }

  // --- inside

  private async decode(id: string): Promise<void> {
    const picture = this.state.pictures.find((p) => p.id === id);
    if (!picture) return;
    const { name } = picture;
    // a picture that was closed meanwhile is not found, and marking it does nothing
    try {
      const file = picture.file ?? (await this.shelf.get('files', id)) ?? null;
      if (!file) throw new Error(`${name} is no longer in this browser. Open its file again.`);
      this.mark(id, { file });
      const opened = await this.client.ask('open', { id, file, name }, (stage) => this.mark(id, { stage }));
      this.mark(id, { opened, stage: null });
    } catch (error) {
      this.mark(id, { stage: null, problem: (error as Error).message });
      // what cannot be opened is not there after a reload
      void this.shelf.drop('pictures', id);
      void this.shelf.drop('files', id);
    }
  }

  /** The takes as they lie on the copy, which may be smaller than what is open here. */
  private takesOfCopy(id: string): Take[] {
    const picture = this.state.pictures.find((p) => p.id === id);
    const takes = this.state.boards[id]?.takes ?? [];
    const { opened, copy } = picture ?? {};
    return opened && copy ? takes.map((take) => resized(take, opened, copy)) : takes;
  }

  private mark(id: string, part: Partial<OpenPicture>): void {
    this.set({ pictures: this.state.pictures.map((p) => (p.id === id ? { ...p, ...part } : p)) });
  }

  override saveNow(leaving = false): void {
    this.stopWaiting();
    // what is shown is written down when the page goes away, whether it changed or not
    this.write(leaving);
  }

  protected write(leaving: boolean): void {
    const { pictures, shown, boards } = this.state;
    writePage({
      shown,
      current: Object.fromEntries(Object.entries(boards).map(([id, b]) => [id, b.current])),
    });
    for (const [picture, { takes }] of Object.entries(boards))
      if (takes.some((t) => this.unwritten.has(keyOf(picture, t.id))))
        this.writeTakes(picture, this.unwritten);
    this.unwritten.clear();
    for (const { id, keptIn } of pictures)
      if (keptIn && this.unsent.delete(id)) void this.sendTakes(keptIn, id, leaving);
    this.unsent.clear();
  }

  /** Brings the takes of a kept picture up to date on the server; what is refused is reported. */
  private async sendTakes(library: string, id: string, leaving: boolean): Promise<void> {
    const name = this.state.pictures.find((p) => p.id === id)?.name;
    const asked = { params: { id: library, picture: id }, body: this.takesOfCopy(id), keepalive: leaving };
    const came = await call(saveTakes, asked, this.send);
    if (came.ok) return;
    if (came.status !== null && came.status < 500) {
      this.set({ problem: `The takes of ${name} could not be kept with the library: ${came.why}` });
      if (came.status !== 404 && came.status !== 410) return;
      // it stays open here, and can be kept again
      this.mark(id, { keptIn: null, copy: null });
      void this.writePicture(id, null);
      return;
    }
    this.unsent.add(id);
    setTimeout(() => this.save(), AGAIN_MS);
  }
}

/** A picture that is not decoded yet. */
const closed = ({ id, name, keptIn, copy }: KeptHere): OpenPicture => ({
  id,
  name,
  keptIn,
  copy,
  file: null,
  opened: null,
  stage: 'Opening',
  problem: null,
});

interface Page {
  shown: string | null;
  current: Record<string, string>;
}

function readPage(): Page {
  try {
    return { shown: null, current: {}, ...JSON.parse(sessionStorage.getItem(PAGE) ?? '{}') };
  } catch {
    return { shown: null, current: {} };
  }
}

function writePage(page: Page): void {
  try {
    sessionStorage.setItem(PAGE, JSON.stringify(page));
  } catch {
    // after a reload the first picture is shown
  }
}
