import { useEffect, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { useShortcut } from '~/ui/shortcuts';

/** The steps of a library in the order of the work: the end of their address, and their label. */
export const steps = [
  ['gather', 'Gather'],
  ['arrange', 'Arrange'],
  ['apply', 'Apply'],
  ['check', 'Check'],
  ['hand-over', 'Hand over'],
] as const;

/** The keys that lead from step to step of a library, or of a book, which has two. */
export function useSteps(library: string, book: boolean): void {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  // who presses twice means the step after the one that is on its way
  const going = useRef<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it has come
  useEffect(() => {
    going.current = null;
  }, [pathname]);
  const own = steps.filter(([to]) => !book || to === 'check' || to === 'hand-over');
  const go = (by: number) => {
    const from = own.findIndex(([to]) => (going.current ?? pathname).endsWith(`/${to}`));
    const next = own[from + by];
    if (from < 0 || !next) return false;
    going.current = `/libraries/${library}/${next[0]}`;
    void navigate(going.current);
    return true;
  };
  useShortcut('nextStep', () => go(1));
  useShortcut('previousStep', () => go(-1));
}
