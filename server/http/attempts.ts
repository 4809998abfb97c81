/** This many may fail before anyone has to wait. */
const FREE = 3;
const FREE_IN_ALL = 20;
const FIRST_WAIT_MS = 1000;
const MAX_WAIT_MS = 60_000;
const MAX_WAIT_IN_ALL_MS = 10_000;
/** What failed so long ago does not count any more. */
const FORGET_MS = 3_600_000;
/** More addresses are not told apart; the oldest goes. */
const MAX_ADDRESSES = 10_000;

interface Failures {
  count: number;
  /** When the last one was, ms. */
  last: number;
}

/**
 * Slows down whoever guesses: each failure of an address makes the wait before its next try twice as long, and many failures from
 * wherever make everyone wait a little. Browsers that were signed in before are counted by themselves and wait for nobody else.
 */
export class Attempts {
  private readonly byAddress = new Map<string, Failures>();
  private all: Failures = { count: 0, last: 0 };

  constructor(private readonly now: () => number = Date.now) {}

  /** How long this one has to wait before the next try, ms; 0 when it may try now. */
  waitFor(address: string, known: string | null = null): number {
    const own = this.remaining(
      this.byAddress.get(known === null ? addressKey(address) : `known ${known}`),
      FREE,
      MAX_WAIT_MS,
    );
    if (known !== null) return own;
    return Math.max(own, this.remaining(this.all, FREE_IN_ALL, MAX_WAIT_IN_ALL_MS));
  }

  failed(address: string, known: string | null = null): void {
    const key = known === null ? addressKey(address) : `known ${known}`;
    const failures = this.counted(this.byAddress.get(key));
    this.byAddress.delete(key);
    this.byAddress.set(key, failures);
    const [oldest] = this.byAddress.keys();
    if (this.byAddress.size > MAX_ADDRESSES && oldest !== undefined) this.byAddress.delete(oldest);
    if (known === null) this.all = this.counted(this.all);
  }

  succeeded(address: string, known: string | null = null): void {
    this.byAddress.delete(known === null ? addressKey(address) : `known ${known}`);
  }

  private counted(before: Failures | undefined): Failures {
    const now = this.now();
    const recent = before && now - before.last < FORGET_MS ? before.count : 0;
    return { count: recent + 1, last: now };
  }

  private remaining(failures: Failures | undefined, free: number, most: number): number {
    if (!failures || failures.count < free || this.now() - failures.last >= FORGET_MS) return 0;
    const wait = Math.min(most, FIRST_WAIT_MS * 2 ** Math.min(30, failures.count - free));
    return Math.max(0, failures.last + wait - this.now());
  }
}

/** Whoever has one address of version 6 has a whole network of them. */
export const addressKey = (address: string) => {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
  return plain.includes(':') ? expanded(plain).slice(0, 4).join(':') : plain;
};

function expanded(address: string): string[] {
  const [before = '', after] = address.split('::');
  const head = before.split(':').filter(Boolean);
  const tail = after?.split(':').filter(Boolean) ?? [];
  return [...head, ...Array<string>(Math.max(0, 8 - head.length - tail.length)).fill('0'), ...tail];
}
