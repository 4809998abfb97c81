// The server knows only what a link's address comes to, so that nobody who reads its data has the addresses. The browser that made a
// link keeps it, to copy it again.

const KEY = 'papillon-links';

function known(): Record<string, string> {
  try {
    const all: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return all && typeof all === 'object' ? (all as Record<string, string>) : {};
  } catch {
    // a browser that keeps nothing, or something that is not ours
    return {};
  }
}

function keep(all: Record<string, string>): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(all));
  } catch {
    // then it is copied now or never
  }
}

/** The token of a link, where this browser made it. */
export const tokenOf = (link: string): string | null => known()[link] ?? null;
export const keepToken = (link: string, token: string) => keep({ ...known(), [link]: token });
export const forgetToken = (link: string) => {
  const { [link]: _, ...rest } = known();
  keep(rest);
};

/** The address of a page, or of a file with the name it is fetched by. */
export const pageAddress = (token: string) => `${location.origin}/s/${token}`;
export const fileAddress = (token: string, name: string) =>
  `${location.origin}/f/${token}/${encodeURIComponent(name)}`;

/** What stands in an address for the name of a file: letters and numbers that need no escape. */
export function plainAddressName(name: string, ending: string): string {
  const plain = name
    .normalize('NFD')
    .replace(/\p{Mark}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60);
  return `${plain || 'swatches'}.${ending}`;
}
