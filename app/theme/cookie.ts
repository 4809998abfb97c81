import { isSurround, type Surround } from './tokens';

const NAME = 'surround';
const YEAR = 365 * 24 * 3600;

/** The surround the user chose, so that the first paint already has it. */
export function readSurround(request: Request): Surround {
  const match = /(?:^|;\s*)surround=(\w+)/.exec(request.headers.get('Cookie') ?? '');
  return isSurround(match?.[1]) ? match[1] : 'light';
}

export const surroundCookie = (surround: Surround) =>
  `${NAME}=${surround}; Path=/; Max-Age=${YEAR}; SameSite=Lax`;
