import { createStore, del, get, set } from 'idb-keyval';
import { nanoid } from 'nanoid';
import { checkTakes, newTake, type PaletteColor, resized, type Take } from '#core/picture/index';
import { openPictureClient, type PictureClient } from '~/workers/picture-client';
import type { OpenedPicture } from '~/workers/picture-messages';

export interface OpenPicture {
  id: string;
  name: string;
  file: Blob;
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

const COPY_SIDE = 1600;
const COPY_BYTES = 4 * 1024 * 1024;
const SAVE_MS = 400;

/** Where the browser keeps the pictures between reloads. */
const place = () => createStore('papillon', 'picture');
const KEY = 'pictures';

interface Kept {
  pictures: Pick<OpenPicture, 'id' | 'name' | 'file' | 'keptIn' | 'copy'>[];
  shown: string | null;
  boards: Record<string, Board>;
}

const emptyBoard = (): Board => {
  const take = newTake(nanoid(8));
  return { takes: [take], current: take.id };
};

function sound({ takes }: Board): boolean {
  try {
    return checkTakes(takes).length > 0;
  } catch {
    return false;
  }
}

/**
 * The pictures colours are being gathered from, and their takes. They stay on this machine, and survive a reload there;
 * a copy goes to the server only when the user keeps a picture with a library.
 */
export class PictureStore {
  private state: PictureState = { pictures: [], shown: null, boards: {}, problem: null };
  private readonly listeners = new Set<() => void>();
  private worker: PictureClient | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly unsaved = new Set<string>();

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  readonly snapshot = (): PictureState => this.state;

  /** The worker that has the pixels. */
  get client(): PictureClient {
    this.worker ??= openPictureClient();
    return this.worker;
  }

  /** Brings back what was open before a reload. */
  async restore(): Promise<void> {
    const kept = await get<Kept>(KEY, place()).catch(() => undefined);
    if (!kept || this.state.pictures.length > 0) return;
    // takes of an earlier version that no longer fit begin anew
    const boards = Object.fromEntries(
      Object.entries(kept.boards).map(([id, board]) => [id, sound(board) ? board : emptyBoard()]),
    );
    this.set({
      pictures: kept.pictures.map((p) => ({ ...p, opened: null, stage: 'Opening', problem: null })),
      shown: kept.shown,
      boards,
    });
    for (const { id } of kept.pictures) void this.decode(id);
  }

  /** Opens pictures, shows the first of them, and leaves those open that are. */
  open(files: { file: Blob; name: string }[]): void {
    const added = files.map(
      ({ file, name }): OpenPicture => ({
        id: nanoid(8),
        name,
        file,
        opened: null,
        stage: 'Opening',
        problem: null,
        keptIn: null,
        copy: null,
      }),
    );
    this.add(added, {});
  }

  /** Opens the copy that a library keeps, with its takes. */
  async openKept(library: string, { id, name, takes }: KeptPicture): Promise<void> {
    if (this.state.pictures.some((p) => p.id === id)) {
      this.show(id);
      return;
    }
    const response = await fetch(`/libraries/${library}/pictures/${id}`).catch(() => null);
    if (!response?.ok) {
      this.set({ problem: 'The picture cannot be fetched. Is the server there? Try again.' });
      return;
    }
    const one: OpenPicture = {
      id,
      name,
      file: await response.blob(),
      opened: null,
      stage: 'Opening',
      problem: null,
      keptIn: library,
      copy: null,
    };
    this.add([one], takes.length > 0 ? { [id]: { takes, current: takes[0].id } } : {});
  }

  private add(added: OpenPicture[], boards: Record<string, Board>): void {
    // what did not open is in the way of what will
    const sound = this.state.pictures.filter((p) => !p.problem);
    this.set({
      pictures: [...sound, ...added],
      shown: added[0].id,
      boards: {
        ...this.state.boards,
        ...Object.fromEntries(added.map(({ id }) => [id, emptyBoard()])),
        ...boards,
      },
    });
    for (const { id } of added) void this.decode(id);
    this.save();
  }

  show(id: string): void {
    const boards = this.state.boards[id] ? this.state.boards : { ...this.state.boards, [id]: emptyBoard() };
    this.set({ shown: id, boards });
    this.save();
  }

  close(id: string): void {
    const pictures = this.state.pictures.filter((p) => p.id !== id);
    const { [id]: _, ...boards } = this.state.boards;
    const gone = this.state.shown === id || (this.state.shown === ALL && pictures.length < 2);
    this.set({ pictures, boards, shown: gone ? (pictures[0]?.id ?? null) : this.state.shown });
    // a picture that is still being decoded would hold the worker up
    if (pictures.length === 0) {
      // those who ask only for the latest have to hear, or they would wait for ever
      this.worker?.close('The picture was closed.');
      this.worker = null;
    } else void this.client.ask('shut', { id });
    this.save();
  }

  // --- takes

  /** Changes the take that is worked on. */
  change(source: string, next: (take: Take) => Take): void {
    this.board(source, ({ takes, current }) => ({
      takes: takes.map((t) => (t.id === current ? next(t) : t)),
      current,
    }));
  }

  /** Keeps what a take came to. */
  keepResult(source: string, id: string, colors: PaletteColor[], mean: number | null): void {
    this.board(source, (board) => {
      const take = board.takes.find((t) => t.id === id);
      if (!take || (take.colors === colors && take.mean === mean)) return board;
      return { ...board, takes: board.takes.map((t) => (t.id === id ? { ...t, colors, mean } : t)) };
    });
  }

  /** A new take that begins like the one worked on. */
  addTake(source: string): void {
    this.board(source, ({ takes, current }) => {
      const id = nanoid(8);
      const at = takes.findIndex((t) => t.id === current);
      return { takes: [...takes, { ...takes[at], id, name: '' }], current: id };
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
    this.board(source, ({ takes, current }) => {
      if (takes.length < 2) return { takes, current };
      const at = takes.findIndex((t) => t.id === id);
      const left = takes.filter((t) => t.id !== id);
      return { takes: left, current: current === id ? left[Math.min(at, left.length - 1)].id : current };
    });
    return () => {
      const gone = before.takes.find((t) => t.id === id);
      if (gone)
        this.board(source, ({ takes }) => {
          const at = before.takes.indexOf(gone);
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
    this.unsaved.add(source);
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
      const response = await fetch(`/libraries/${library}/pictures/${id}`, { method: 'PUT', body: form });
      if (!response.ok) throw new Error(await response.text());
      this.mark(id, { keptIn: library });
      this.save();
      return true;
    } catch (error) {
      this.set({ problem: `${picture.name} could not be kept: ${(error as Error).message}` });
      return false;
    }
  }

  /** Takes the copy out of the library; the picture stays open here. */
  async forget(library: string, id: string): Promise<boolean> {
    const response = await fetch(`/libraries/${library}/pictures/${id}`, { method: 'DELETE' }).catch(
      () => null,
    );
    if (!response?.ok) {
      this.set({
        problem: 'The picture could not be taken out of the library. Is the server there? Try again.',
      });
      return false;
    }
    this.mark(id, { keptIn: null, copy: null });
    this.save();
    return true;
  }

  clearProblem(): void {
    this.set({ problem: null });
  }

  // --- inside

  private async decode(id: string): Promise<void> {
    const picture = this.state.pictures.find((p) => p.id === id);
    if (!picture) return;
    const { file, name } = picture;
    const client = this.client;
    // a picture that was closed meanwhile is not found, and marking it does nothing
    try {
      const opened = await client.ask('open', { id, file, name }, (stage) => this.mark(id, { stage }));
      this.mark(id, { opened, stage: null });
    } catch (error) {
      this.mark(id, { stage: null, problem: (error as Error).message });
      this.save();
    }
  }

  /** The takes as they lie on the copy, which may be smaller than what is open here. */
  private takesOfCopy(id: string): Take[] {
    const picture = this.state.pictures.find((p) => p.id === id);
    const { takes } = this.state.boards[id];
    const { opened, copy } = picture ?? {};
    return opened && copy ? takes.map((take) => resized(take, opened, copy)) : takes;
  }

  private mark(id: string, part: Partial<OpenPicture>): void {
    this.set({ pictures: this.state.pictures.map((p) => (p.id === id ? { ...p, ...part } : p)) });
  }

  private set(part: Partial<PictureState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }

  /** Writes down what is open, a moment after the hand has rested. */
  private save(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.saveNow(), SAVE_MS);
  }

  /** @param leaving the page is going away, and what is sent must not hang on it */
  saveNow(leaving = false): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const { pictures, shown, boards } = this.state;
    const kept: Kept = {
      pictures: pictures
        .filter((p) => !p.problem)
        .map(({ id, name, file, keptIn, copy }) => ({ id, name, file, keptIn, copy })),
      shown,
      boards,
    };
    // a browser without the room for it works on without surviving a reload
    const done = kept.pictures.length > 0 ? set(KEY, kept, place()) : del(KEY, place());
    done.catch(() => undefined);
    for (const { id, keptIn } of pictures) {
      if (!keptIn || !this.unsaved.has(id)) continue;
      void fetch(`/libraries/${keptIn}/pictures/${id}`, {
        method: 'PATCH',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(this.takesOfCopy(id)),
        keepalive: leaving,
      }).catch(() => this.unsaved.add(id));
    }
    this.unsaved.clear();
  }
}
