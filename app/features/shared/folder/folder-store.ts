import type { KitChoices } from '#core/formats/plan';
import type { Shelf } from '~/state/shelf';
import { Store } from '~/state/store';

/** How a linked folder stands. */
export interface FolderState {
  /** The folder's name; null where none is linked. */
  name: string | null;
  /** `asks`: after a reload the browser wants to be asked again; `paused`: something went wrong, and it waits to be told to go on. */
  standing: 'none' | 'asks' | 'ready' | 'working' | 'paused';
  /** When it was last brought up to date, ms since 1970, and how many files it has of the kit. */
  at: number | null;
  files: number;
  /** The number of the library's last change that the files have. */
  revision: number;
  problem: string;
  /** Files that somebody else has changed or put there: they are not replaced unasked. */
  foreign: string[];
}

/** What is remembered of a linked folder, in this browser. */
interface Note {
  handle: FileSystemDirectoryHandle;
  choices: KitChoices;
  /** What Papillon has written there: paths, and the SHA-256 of each. */
  written: Record<string, string>;
  /** What it was about to write when it was last seen: a page may end in the middle of it. */
  meant?: Record<string, string>;
  at: number | null;
  revision: number;
}

type Files = ReadonlyMap<string, Uint8Array<ArrayBuffer>>;

const NONE: FolderState = {
  ...{ name: null, standing: 'none', at: null, files: 0, revision: -1, problem: '', foreign: [] },
};

const hashOf = async (bytes: BufferSource): Promise<string> =>
  [...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))]
    .map((b) => b.toString(16).padStart(2, '0'))
    .join('');

/** Permission is not yet in the types of the language. */
type WithPermission = FileSystemDirectoryHandle & {
  queryPermission?(how: { mode: 'readwrite' }): Promise<PermissionState>;
  requestPermission?(how: { mode: 'readwrite' }): Promise<PermissionState>;
};

/** The folder a path leads to; null where it is not there and not to be made. */
async function folderAt(
  root: FileSystemDirectoryHandle,
  names: readonly string[],
  create: boolean,
): Promise<FileSystemDirectoryHandle | null> {
  let folder = root;
  for (const name of names)
    try {
      folder = await folder.getDirectoryHandle(name, { create });
    } catch (error) {
      if (!create && (error as DOMException).name === 'NotFoundError') return null;
      throw error;
    }
  return folder;
}

const split = (path: string): [folders: string[], name: string] => {
  const parts = path.split('/');
  return [parts.slice(0, -1), parts.at(-1)!];
};

/** The SHA-256 of a file; null where it is not there. */
async function hashAt(root: FileSystemDirectoryHandle, path: string): Promise<string | null> {
  const [folders, name] = split(path);
  const folder = await folderAt(root, folders, false);
  if (!folder) return null;
  try {
    const file = await (await folder.getFileHandle(name)).getFile();
    return await hashOf(await file.arrayBuffer());
  } catch (error) {
    if ((error as DOMException).name === 'NotFoundError') return null;
    throw error;
  }
}

/** Writes a file as a whole: whoever reads it sees the old one until the new one is complete. */
async function writeAt(root: FileSystemDirectoryHandle, path: string, bytes: Uint8Array<ArrayBuffer>) {
  const [folders, name] = split(path);
  const folder = (await folderAt(root, folders, true))!;
  const stream = await (await folder.getFileHandle(name, { create: true })).createWritable();
  try {
    await stream.write(bytes);
    await stream.close();
  } catch (error) {
    await stream.abort().catch(() => undefined);
    throw error;
  }
}

const REASONS: Record<string, string> = {
  NotFoundError: 'The folder is not there any more. Put it back, or link another.',
  NotAllowedError: 'The browser may not write to the folder. Allow it, and go on.',
  QuotaExceededError: 'The disk is full. Make room on it, and go on.',
  NoModificationAllowedError: 'Another program holds a file. Close it there, and go on.',
};

/**
 * A folder of this computer that has a library's files, as long as the browser allows it. Only what Papillon wrote is replaced or
 * removed: a file that is another than it was written stops the work, and its owner is asked.
 */
export class FolderStore extends Store<FolderState> {
  private note: Note | null = null;

  constructor(
    private readonly library: string,
    private readonly shelf: Shelf,
    /** Makes the files of a kit, and says of which change they are. */
    private readonly make: (choices: KitChoices) => Promise<{ files: Files; revision: number }>,
  ) {
    super(NONE);
  }

  private get key(): string {
    return `folder-${this.library}`;
  }

  /** What the folder is to have; null where none is linked. */
  get choices(): KitChoices | null {
    return this.note?.choices ?? null;
  }

  /** Finds the folder again that was linked before a reload. */
  async restore(): Promise<void> {
    const note = (await this.shelf.get('notes', this.key)) as Note | undefined;
    if (!note || this.note) return;
    this.note = note;
    const may = await (note.handle as WithPermission).queryPermission?.({ mode: 'readwrite' });
    this.show({ standing: may === 'prompt' ? 'asks' : may === 'denied' ? 'paused' : 'ready' });
    if (may === 'denied') this.show({ problem: REASONS.NotAllowedError! });
  }

  /** Links a folder, and fills it. */
  async link(handle: FileSystemDirectoryHandle, choices: KitChoices): Promise<void> {
    this.note = { handle, choices, written: {}, at: null, revision: -1 };
    await this.keep();
    this.show({ standing: 'ready', problem: '', foreign: [] });
    await this.update();
  }

  /** Other files from now on. */
  async choose(choices: KitChoices): Promise<void> {
    if (!this.note) return;
    this.note = { ...this.note, choices };
    await this.keep();
    await this.update();
  }

  /** Asks the browser for its permission, which needs a click. */
  async allow(): Promise<void> {
    const may = await (this.note?.handle as WithPermission | undefined)?.requestPermission?.({
      mode: 'readwrite',
    });
    if (may === 'denied' || may === 'prompt')
      return this.show({ standing: 'paused', problem: REASONS.NotAllowedError! });
    this.show({ standing: 'ready', problem: '' });
    await this.update();
  }

  /** Forgets the folder; its files stay. */
  async unlink(): Promise<void> {
    this.note = null;
    await this.shelf.drop('notes', this.key);
    this.set(NONE);
  }

  /**
   * Brings the folder up to date.
   *
   * @param replace files of others are replaced, too: somebody has said so
   */
  async update(replace = false): Promise<void> {
    if (!this.note || this.snapshot().standing === 'working') return;
    this.show({ standing: 'working', problem: '', foreign: [] });
    // another page of this browser may have the same folder
    const once = <T>(run: () => Promise<T>): Promise<T> =>
      navigator.locks ? (navigator.locks.request(`papillon-${this.key}`, run) as Promise<T>) : run();
    try {
      await once(() => this.writeAll(replace));
    } catch (error) {
      const { name, message } = error as DOMException;
      this.show({ standing: 'paused', problem: REASONS[name] ?? message });
    }
  }

  private async writeAll(replace: boolean): Promise<void> {
    const kept = ((await this.shelf.get('notes', this.key)) as Note | undefined) ?? this.note;
    if (!this.note || !kept) return;
    const { handle, choices } = this.note;
    const { files, revision } = await this.make(choices);
    const written = { ...kept.written };
    const hashes = new Map<string, string>();
    for (const [path, bytes] of files) hashes.set(path, await hashOf(bytes));
    const gone = Object.keys(written).filter((path) => !files.has(path));
    const foreign: string[] = [];
    const there = new Map<string, string | null>();
    for (const path of [...files.keys(), ...gone]) {
      const now = await hashAt(handle, path);
      there.set(path, now);
      // what is as it is to be needs nobody's leave
      const ours = [written[path], kept.meant?.[path], hashes.get(path)];
      if (now !== null && !ours.includes(now)) foreign.push(path);
    }
    if (foreign.length > 0 && !replace) {
      this.show({ standing: 'paused', foreign });
      return;
    }
    this.note = { ...this.note, written, meant: Object.fromEntries(hashes) };
    await this.keep();
    try {
      for (const [path, bytes] of files) {
        const hash = hashes.get(path)!;
        if (there.get(path) !== hash) await writeAt(handle, path, bytes);
        written[path] = hash;
      }
      for (const path of gone) {
        if (there.get(path) === written[path] || there.get(path) === kept.meant?.[path]) {
          const [folders, name] = split(path);
          await (await folderAt(handle, folders, false))?.removeEntry(name);
        }
        delete written[path];
      }
    } finally {
      // what was written is ours, also where the rest could not be
      this.note = { ...this.note, written };
      await this.keep();
    }
    this.note = { ...this.note, at: Date.now(), revision };
    await this.keep();
    this.show({ standing: 'ready' });
  }

  private async keep(): Promise<void> {
    if (this.note) await this.shelf.put('notes', this.note, this.key);
  }

  private show(part: Partial<FolderState>): void {
    const { note } = this;
    if (!note) {
      this.set(NONE);
      return;
    }
    const { handle, at, revision, written } = note;
    this.set({ name: handle.name, at, revision, files: Object.keys(written).length, ...part });
  }
}
