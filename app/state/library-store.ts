import { nanoid } from 'nanoid';
import {
  type Color,
  type Condition,
  type ConditionSetting,
  conditionOf,
  screenOnly,
} from '#core/color/index';
import {
  type Applied,
  arrived,
  type Change,
  DATABASE_HEADER,
  type DoneChange,
  type Draft,
  type Fields,
  isTalk,
  type Library,
  type LibraryHead,
  type LibraryLine,
  type LibraryRows,
  type News,
  type Op,
  overwritten,
  type Reply,
  LibraryRows as Rows,
  rowsOfHead,
  type Steps,
  same,
  stepsAfter,
  tellLost,
  tellSkipped,
  undoOps,
  withComments,
} from '#core/swatch/index';
import type { Present } from '#server/present';
import { addressOf, whyNot } from '~/api/call';
import { readChanges, readRows } from '~/api/libraries';
import { Live } from './live';
import type { Outbox, Recipient, Surroundings } from './outbox';
import { Store } from './store';

/** Something the user has to be told; it stays until it is dismissed. */
export interface Said {
  key: string;
  text: string;
}

export interface LibraryState {
  library: Library;
  /** What its colours are shown under; it is here before the first of them. */
  condition: Condition;
  /** Whether all of it is here; before, it can be looked at and not changed. */
  whole: boolean;
  /** Swatches read so far, and how many there are; null when nothing is being read. */
  reading: { done: number; of: number } | null;
  /** The number of the last change the server has told of. */
  revision: number;
  /** How many of the last ones touched comments alone, as far as this page has heard. */
  talk: number;
  /** What undo and redo would do next, in words; null when there is nothing. */
  undo: string | null;
  redo: string | null;
  /** Changes the server has not confirmed yet. */
  waiting: number;
  /** Why the library cannot be read or its changes wait; null when all is well. */
  problem: string | null;
  /** What has to be told, the oldest first. */
  said: readonly Said[];
  /** Who else is at the library now. */
  others: readonly Present[];
}

/** A change of this page that waits, as it lies over what the server has. */
interface Pending {
  change: Change;
  /** Of the database it was made for. */
  epoch: string;
  applied: Pick<Applied, 'ops' | 'inverse'>;
}

/** The page looks for others' changes so often while someone sees it, ms. */
const LOOK_MS = 3000;
/** Where the server tells of them it looks all the same, since an event may get lost. */
const SELDOM_MS = 30_000;
const SOON_MS = 60;
const AGAIN_MS = 2000;
const READING_MS = 30_000;
/** This many of its own changes a page can take back without asking the server for their steps. */
const MAX_KNOWN_CHANGES = 200;
const MAX_KNOWN_STEPS = 200_000;
/** Larger ones are not compared one by one with what others do. */
const MAX_COMPARED_OPS = 2000;

/** At most this many rows are kept in the browser with a change that waits. */
const MAX_ROWS_KEPT = 200;

const inBrowser = typeof document !== 'undefined';
const NONE: Steps = { undo: [], redo: [] };

/**
 * A library as the page works on it. Changes are applied at once with the function that the server uses, and put on their way;
 * what others have done is laid under those that wait. Nothing the server has told is ever replaced by something older.
 */
export class LibraryStore extends Store<LibraryState> implements Recipient {
  private view: LibraryRows;
  private pending: Pending[] = [];
  /** The condition that is shown, or on its way. */
  private wanted: ConditionSetting | null = null;
  private readonly known = new Map<string, Pick<Applied, 'ops' | 'inverse'>>();
  private server: Steps = NONE;
  private steps: Steps = NONE;
  /** Of the database that the library was read from. */
  epoch = '';
  private started = false;
  private listeners = 0;
  private reader: { cancelled: boolean } | null = null;
  private looking = false;
  private channel: BroadcastChannel | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private live: Live | null = null;
  /** The last change that an event told of. */
  private told = 0;
  private readonly unregister: () => void;

  constructor(
    readonly id: string,
    private readonly env: Surroundings,
    private readonly outbox: Outbox,
    name = '',
    /** It is on every page, and needs no colours as long as nothing is in it: the tray. */
    private readonly mayBeEmpty = false,
  ) {
    const view = new Rows({ id, name, groups: [] });
    super({
      library: view.library,
      condition: screenOnly,
      whole: false,
      reading: null,
      revision: 0,
      talk: 0,
      undo: null,
      redo: null,
      waiting: 0,
      problem: null,
      said: [],
      others: [],
    });
    this.view = view;
    this.unregister = outbox.register(this);
  }

  /** The rows as the page shows them, for making changes of them. */
  get rows(): LibraryRows {
    return this.view;
  }

  seen(): number {
    return this.snapshot().revision;
  }

  /** Reads the library, and listens to what becomes of it, as long as someone looks. Gives back what ends that. */
  readonly open = (): (() => void) => {
    this.listeners++;
    if (!this.started) {
      this.started = true;
      void this.outbox.load().then(() => this.read());
    } else void this.look();
    if (this.listeners === 1) this.listen();
    return () => {
      this.listeners--;
      if (this.listeners > 0) return;
      this.channel?.close();
      this.channel = null;
      this.live?.stop();
      this.live = null;
      if (this.timer) clearTimeout(this.timer);
      this.timer = null;
      if (inBrowser) document.removeEventListener('visibilitychange', this.onVisible);
    };
  };

  /** Ends it for good. */
  close(): void {
    this.unregister();
    if (this.reader) this.reader.cancelled = true;
  }

  /** Whether all that waits touches comments alone. */
  get onlyTalks(): boolean {
    return this.pending.every(({ applied }) => isTalk(applied));
  }

  /** Whether someone looks, or something waits. */
  get busy(): boolean {
    return this.listeners > 0 || this.pending.length > 0;
  }

  /** Resolves when the whole library is here; rejects with why it is not available. */
  async whole(): Promise<LibraryRows> {
    const close = this.open();
    try {
      for (;;) {
        const { whole, problem } = this.snapshot();
        if (whole) return this.view;
        if (problem) throw new Error(problem);
        await this.next();
      }
    } finally {
      close();
    }
  }

  /** Resolves when everything is confirmed. */
  async saved(): Promise<void> {
    while (this.snapshot().waiting > 0) await this.next();
  }

  private next(): Promise<void> {
    return new Promise((resolve) => {
      const stop = this.subscribe(() => {
        stop();
        resolve();
      });
    });
  }

  // --- changing

  /** When it was last edited here, ms. */
  editedAt = Number.NEGATIVE_INFINITY;

  /** Makes a change. Returns its id, or null (and says why) when there is nothing it could do. */
  edit(draft: Draft): string | null {
    this.editedAt = performance.now();
    if (!this.snapshot().whole) {
      this.say('The library is still being read. Try again in a moment.');
      return null;
    }
    const { label, ops } = withComments(draft, this.view.library);
    if (ops.length === 0) return null;
    this.bring(ops);
    const change: Change = { id: nanoid(), by: this.env.by, label, ops };
    const applied = this.view.apply(ops);
    this.say(...tellSkipped(applied.skipped));
    if (applied.ops.length === 0) {
      this.show();
      return null;
    }
    if (ops.length > draft.ops.length)
      this.say('The comments on what was deleted went with it. Undo brings them back, too.');
    this.push(change, applied);
    return change.id;
  }

  /** Takes back one's own last change, or the one named. */
  undo(id?: string): void {
    const step = id ? this.steps.undo.find((s) => s.id === id) : this.steps.undo.at(-1);
    if (step) this.takeBack(step.id, step.label);
    // it may be further back than this page knows, and the server will say
    else if (id) this.takeBack(id, '');
  }

  redo(): void {
    const step = this.steps.redo.at(-1);
    if (step) this.takeBack(step.id, step.label);
  }

  /** Whether a change of its own stands: it was made, not refused and not taken back. */
  stands(id: string): boolean {
    return this.steps.undo.some((s) => s.id === id);
  }

  private takeBack(undoes: string, label: string): void {
    if (!this.snapshot().whole) return;
    const change: Change = { id: nanoid(), by: this.env.by, label, ops: [], undoes };
    this.push(change, this.lay(change));
  }

  private push(change: Change, applied: Pick<Applied, 'ops' | 'inverse'>): void {
    this.pending.push({ change, epoch: this.epoch, applied });
    this.keep(change.id, applied);
    const { name } = this.view.library;
    this.outbox.add({
      ...{ library: this.id, seen: this.seen(), epoch: this.epoch, name, change },
      rows: this.touchedBy(change),
    });
    this.show();
  }

  /** The swatches that a change alters, whole, with the names of their groups; of very many the first. */
  private touchedBy({ ops }: Change): Record<string, Fields> {
    const rows: Record<string, Fields> = {};
    for (const { op, of, id } of ops.slice(0, MAX_ROWS_KEPT)) {
      const fields = op === 'set' && of === 'swatch' ? this.view.get(of, id) : null;
      if (!fields) continue;
      rows[`swatch ${id}`] = fields;
      const group = this.view.get('group', String(fields.group));
      if (group) rows[`group ${fields.group}`] = group;
    }
    return rows;
  }

  /** Lays a change over what is there. */
  private lay(change: Change): Pick<Applied, 'ops' | 'inverse'> {
    if (!change.undoes) return this.view.apply(change.ops);
    const target = this.known.get(change.undoes);
    // of one made before this page was opened only the server knows the steps
    return target ? this.view.apply(undoOps(target, this.view).ops) : { ops: [], inverse: [] };
  }

  private keep(id: string, { ops, inverse }: Pick<Applied, 'ops' | 'inverse'>): void {
    this.known.delete(id);
    this.known.set(id, { ops, inverse });
    let steps = 0;
    for (const k of this.known.values()) steps += k.ops.length;
    while (this.known.size > 1 && (this.known.size > MAX_KNOWN_CHANGES || steps > MAX_KNOWN_STEPS)) {
      const [oldest, { ops: gone }] = this.known.entries().next().value!;
      steps -= gone.length;
      this.known.delete(oldest);
    }
  }

  // --- what the server tells

  confirmed(reply: Reply): void {
    const refused = reply.outcomes.filter((o) => o.seq === null).map((o) => o.id);
    this.hear(reply, new Set(reply.outcomes.map((o) => o.id)), new Set(refused));
    for (const { said } of reply.outcomes) this.say(...said);
    this.channel?.postMessage(reply.seq);
    if (this.pending.length === 0 && this.told > this.seen()) void this.lookUntil(this.told);
  }

  refused(ids: string[], why: string): void {
    this.hear(null, new Set(ids), new Set(ids));
    this.say(why);
  }

  deleted(why: string): void {
    this.set({ problem: `${why} Your changes are kept here and will be saved then.` });
  }

  stranded(): void {
    // its changes are not on their way any more: it may look at what there is instead
    void this.look(true, true);
  }

  /** Takes in what has happened, with the changes that still wait laid over it. */
  private hear(news: News | null, answered: ReadonlySet<string>, refused: ReadonlySet<string>): void {
    const { revision, whole } = this.snapshot();
    const answer = (p: Pending) => answered.has(p.change.id);
    if (!whole) {
      // what is being read has it, or the next look brings it
      this.pending = this.pending.filter((p) => !answer(p));
      this.show();
      return;
    }
    const rereads = news !== null && (news.changes === null || news.epoch !== this.epoch);
    const newer = news && (rereads || news.seq >= revision) ? news : null;
    const fresh = (!rereads && newer?.changes?.filter((c) => c.seq > revision)) || [];
    if (this.isMine(fresh) && refused.size === 0 && !rereads) {
      // only what is here already: the changes that waited first, done as they were sent
      this.pending = this.pending.filter((p) => !answer(p));
    } else {
      for (const { applied } of [...this.pending].reverse()) this.view.apply(applied.inverse);
      for (const change of fresh) this.layUnder(change);
      const done = new Set(fresh.map((c) => c.id));
      this.pending = this.pending.filter((p) => !answer(p) && !done.has(p.change.id));
      this.layOver();
    }
    if (newer) {
      this.server = newer.steps;
      // comments that came last make nothing that was handed over old
      const heard = newer.seq - revision;
      const talk = fresh.length === heard ? fresh.length - 1 - fresh.findLastIndex((c) => !c.talk) : 0;
      this.set({
        revision: newer.seq,
        problem: null,
        talk: talk === heard ? this.snapshot().talk + talk : talk,
      });
    }
    for (const id of refused) this.known.delete(id);
    this.show();
    // too much has happened, or what is known here is not what is there: all of it is read again
    if (rereads) void this.read();
  }

  private isMine(fresh: DoneChange[]): boolean {
    return fresh.every((c, i) => !c.ops && this.pending[i]?.change.id === c.id);
  }

  private layUnder(change: DoneChange): void {
    const mine = this.pending.find((p) => p.change.id === change.id);
    const ops = change.ops ?? mine?.change.ops ?? [];
    if (change.over?.includes(this.env.by) && !mine) {
      const given = [...this.known.values()].flatMap((k) => (k.ops.length <= MAX_COMPARED_OPS ? k.ops : []));
      this.say(tellLost(overwritten(ops, given)));
    }
    this.bring(ops);
    const applied = this.view.apply(ops);
    if (mine) this.keep(change.id, applied);
  }

  private layOver(): void {
    this.pending = this.pending.map(({ change, epoch }) => {
      const applied = this.lay(change);
      this.keep(change.id, applied);
      return { change, epoch, applied };
    });
  }

  private show(): void {
    this.steps = this.pending.reduce((steps, p) => stepsAfter(steps, p.change), this.server);
    const { library } = this.view;
    this.set({
      library,
      condition: this.conditionNow(),
      waiting: this.outbox.waitingFor(this.id, this.epoch).length || this.pending.length,
      undo: this.steps.undo.at(-1)?.label ?? null,
      redo: this.steps.redo.at(-1)?.label ?? null,
    });
  }

  /** The condition of what is shown. One whose profile is still to be fetched takes the other's place when it is here. */
  private conditionNow(): Condition {
    const { condition } = this.snapshot();
    const wanted = conditionOf(this.view.library);
    if (condition === screenOnly && !(this.mayBeEmpty && this.snapshot().whole && this.hasSwatches()))
      return condition;
    if (condition !== screenOnly && same(wanted, condition.setting)) return condition;
    const { colors } = this.env;
    if (colors.has(wanted)) return colors.here(wanted)!;
    this.fetchCondition(wanted);
    return condition;
  }

  /** Shows the library under a condition as soon as its profile is here, and colors under those they name. */
  private fetchCondition(wanted: ConditionSetting, named: readonly Color[] = []): void {
    if (same(this.wanted, wanted) && named.length === 0) return;
    this.wanted = wanted;
    this.env.colors.condition(wanted, named).then(
      (found) => {
        this.tellMissing(wanted, found);
        if (same(conditionOf(this.view.library), wanted)) this.set({ condition: found });
      },
      (error) => {
        this.wanted = null;
        this.say((error as Error).message);
      },
    );
  }

  private tellMissing(wanted: ConditionSetting, found: Condition): void {
    if (found !== screenOnly && found.setting.profile !== wanted.profile)
      this.say(
        `The profile this library is printed under is missing. Its inks are shown for ${found.name}; choose another print condition in Check.`,
      );
  }

  /** Colors that name a profile which is not here yet. */
  private bring(ops: readonly Op[]): void {
    const named = ops.flatMap((o) => {
      const color = o.op === 'drop' ? undefined : (o.fields.color as Color | null | undefined);
      return color?.profile && !this.env.colors.has(color) ? [color] : [];
    });
    if (named.length > 0) this.fetchCondition(conditionOf(this.view.library), named);
  }

  private hasSwatches(): boolean {
    return this.view.library.groups.some((g) => g.swatches.length > 0);
  }

  // --- telling

  private say(...texts: string[]): void {
    if (texts.length === 0) return;
    const said = texts.map((text) => ({ key: nanoid(6), text }));
    this.set({ said: [...this.snapshot().said, ...said] });
  }

  readonly dismiss = (key: string): void => {
    this.set({ said: this.snapshot().said.filter((s) => s.key !== key) });
  };

  // --- reading

  /** Reads all of the library; the latest reading counts. */
  private async read(): Promise<void> {
    if (this.reader) this.reader.cancelled = true;
    const reader = { cancelled: false };
    this.reader = reader;
    for (;;) {
      try {
        await this.readOnce(reader);
        break;
      } catch (error) {
        if (reader.cancelled) return;
        if (error instanceof PastError) continue;
        const gone = error instanceof GoneError;
        this.set({
          reading: null,
          problem: gone
            ? error.message
            : `The library cannot be read. ${error instanceof NotNowError ? error.message : 'The server does not answer.'} Papillon keeps trying.`,
        });
        if (gone && error.forGood) return;
        await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
        if (reader.cancelled) return;
      }
    }
    if (this.reader === reader) this.reader = null;
  }

  private async readOnce(reader: { cancelled: boolean }): Promise<void> {
    // on its way while the rows are; whoever waits for it hears why it does not come. The tray is mostly empty, and every page has it
    if (!this.mayBeEmpty) this.env.colors.load().catch(() => undefined);
    const response = await this.env.fetch(addressOf(readRows, { id: this.id }, { by: this.env.by }), {
      signal: AbortSignal.timeout(READING_MS),
    });
    if (response.status === 404 || response.status === 410)
      throw new GoneError(await this.whyGone(response), response.status === 404 && !this.isOther(response));
    if (!response.ok || !response.body) throw new NotNowError(await whyNot(response));
    let head: LibraryHead | null = null;
    let rows: LibraryRows | null = null;
    let ended = false;
    let done = 0;
    let condition: Condition | null = null;
    const first = !this.snapshot().whole;
    for await (const line of linesOf(response.body)) {
      if (reader.cancelled) return;
      const part = JSON.parse(line) as LibraryLine;
      if ('head' in part) {
        head = part.head;
        rows = rowsOfHead(head);
        condition =
          this.mayBeEmpty && head.swatchCount === 0
            ? screenOnly
            : await this.env.colors.condition(conditionOf(head));
        if (!same(this.wanted, conditionOf(head))) this.tellMissing(conditionOf(head), condition);
        this.wanted = conditionOf(head);
      } else if ('swatches' in part && rows) {
        const writes = part.swatches.map(arrived);
        const arriving = writes.map((w) => w.after!.color as Color);
        if (arriving.some((c) => c.profile !== undefined))
          condition = await this.env.colors.condition(conditionOf(head!), arriving);
        condition!.prepare(arriving);
        rows.write(writes);
        done += part.swatches.length;
      } else ended = true;
      // a library is looked at while it comes in; what is whole stays until the new one is, too
      if (first && rows && head && condition)
        this.set({
          library: rows.library,
          condition,
          reading: { done: Math.min(done, head.swatchCount), of: head.swatchCount },
        });
    }
    if (!head || !rows || !condition || !ended) throw new Error('The library arrived incomplete.');
    if (reader.cancelled) return;
    // more has been heard of meanwhile than this has in it
    if (head.epoch === this.epoch && head.seq < this.snapshot().revision) throw new PastError();
    const { epoch } = head;
    if (this.epoch && epoch !== this.epoch) {
      // what waits for the data of before does not lie over these
      this.outbox.remember(this.id, this.epoch, this.view);
      this.pending = this.pending.filter((p) => p.epoch === epoch);
      this.known.clear();
      // and what waited for these may go on
      this.outbox.wake();
    }
    this.view = rows;
    this.server = head.steps;
    this.epoch = epoch;
    const here = new Set(this.pending.map((p) => p.change.id));
    const left = this.outbox.waitingFor(this.id, epoch).filter((c) => !here.has(c.id));
    this.pending = [
      ...left.map((change) => ({ change, epoch, applied: { ops: [], inverse: [] } })),
      ...this.pending,
    ];
    this.layOver();
    this.set({ whole: true, reading: null, revision: head.seq, problem: null, condition });
    this.show();
  }

  /** Whether a refusal comes from another database than the one the library was read from. */
  private isOther(response: Response): boolean {
    const from = response.headers.get(DATABASE_HEADER);
    return this.epoch !== '' && from !== null && from !== this.epoch;
  }

  private async whyGone(response: Response): Promise<string> {
    return this.isOther(response)
      ? 'The server now has different data, and this library is not among them. This page shows its last known state.'
      : response.text();
  }

  // --- others

  private listen(): void {
    if (typeof BroadcastChannel !== 'undefined') {
      this.channel = new BroadcastChannel(`papillon-${this.id}`);
      this.channel.onmessage = ({ data }) => {
        if (typeof data === 'number' && data > this.seen()) void this.look(true);
      };
    }
    if (inBrowser) document.addEventListener('visibilitychange', this.onVisible);
    // of a tray, which everybody has for themselves, nothing has to be heard at once
    if (inBrowser && typeof EventSource !== 'undefined' && !this.mayBeEmpty) this.goLive();
    this.lookLater();
  }

  private goLive(): void {
    this.live = new Live(this.id, this.env.by, {
      changed: (seq) => {
        this.told = Math.max(this.told, seq);
        if (seq > this.seen()) void this.lookUntil(seq);
      },
      news: (text) => void this.heard(text),
      people: (others) => {
        if (others.length > 0 || this.snapshot().others.length > 0) this.set({ others });
      },
      gone: () => void this.look(true),
    });
    this.live.start();
  }

  /** Takes in what an event says has happened; where it does not follow what is known here, the server is asked. */
  async heard(text: string): Promise<void> {
    const { checkNews } = await import('#core/swatch/checks');
    const news = checkNews(JSON.parse(text));
    const { whole, revision } = this.snapshot();
    if (!whole || news.seq <= revision) return;
    this.told = Math.max(this.told, news.seq);
    // the reply to what waits brings this, too, and says where both changed the same
    if (this.pending.length > 0) return;
    const follows = news.changes !== null && (news.changes[0]?.seq ?? news.seq + 1) <= revision + 1;
    if (!follows || news.epoch !== this.epoch) return this.lookUntil(news.seq);
    const own = news.changes!.filter((c) => c.by === this.env.by && c.seq > revision);
    const steps = own.reduce(stepsAfter, this.server);
    this.hear({ ...news, steps }, new Set(), new Set());
  }

  /** Says to others what is selected here. */
  point(ids: Iterable<string>): void {
    this.live?.point(ids);
  }

  /** Looks, and once more where a look that was under way did not bring it. */
  private async lookUntil(seq: number): Promise<void> {
    for (let tries = 0; tries < 3 && this.seen() < seq && this.listeners > 0; tries++) {
      await this.look(true);
      if (this.seen() < seq) await new Promise((resolve) => setTimeout(resolve, SOON_MS));
    }
    // it is looked for again soon, and not after the long pause
    if (this.seen() < seq && this.listeners > 0) this.lookLater();
  }

  private readonly onVisible = () => void this.look();

  private lookLater(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(
      async () => {
        await this.look();
        if (this.listeners > 0) this.lookLater();
      },
      this.live?.isHearing && this.told <= this.seen() ? SELDOM_MS : LOOK_MS,
    );
  }

  /**
   * Asks for what has happened since; not while changes are under way, which bring it themselves, and not in a page nobody
   * sees, unless something is known to have happened.
   */
  async look(known = false, waiting = false): Promise<void> {
    const { whole, revision } = this.snapshot();
    if (!whole || this.looking) return;
    if (!waiting && this.outbox.isSending(this.id, this.epoch)) return;
    if (!known && inBrowser && document.visibilityState === 'hidden') return;
    this.looking = true;
    try {
      const response = await this.env.fetch(
        addressOf(readChanges, { id: this.id }, { after: revision, by: this.env.by }),
        { signal: AbortSignal.timeout(READING_MS) },
      );
      if (response.status === 404 || response.status === 410)
        this.set({ problem: await this.whyGone(response) });
      if (response.ok) {
        const { checkNews } = await import('#core/swatch/checks');
        const news = checkNews(await response.json());
        // what was asked for may be past by now
        if (news.changes === null || news.epoch !== this.epoch || news.seq > this.seen())
          this.hear(news, new Set(), new Set());
        else if (news.seq === this.seen() && this.pending.length === 0) {
          this.server = news.steps;
          this.set({ problem: null });
          this.show();
        }
      }
    } catch {
      // the next look tells more
    } finally {
      this.looking = false;
    }
  }
}

/** What was read is older than what has been heard since. */
class PastError extends Error {}

/** The server says why not. */
class NotNowError extends Error {}

class GoneError extends Error {
  constructor(
    message: string,
    readonly forGood: boolean,
  ) {
    super(message);
  }
}

/** The lines of a body as they come in. */
async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.getReader();
  const decoder = new TextDecoder();
  // pieces of a long line are put together once
  let parts: string[] = [];
  for (;;) {
    const { done, value } = await reader.read();
    const text = done ? decoder.decode() : decoder.decode(value, { stream: true });
    const lines = text.split('\n');
    for (const [i, part] of lines.entries()) {
      parts.push(part);
      if (i === lines.length - 1 && !done) break;
      const line = parts.join('');
      parts = [];
      if (line) yield line;
    }
    if (done) return;
  }
}
