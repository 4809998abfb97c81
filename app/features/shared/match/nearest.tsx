import {
  createContext,
  lazy,
  type ReactNode,
  Suspense,
  useCallback,
  useContext,
  useEffect,
  useState,
} from 'react';
import type { Condition } from '#core/color/model';
import { useCondition } from '~/ui/condition';
import { useShortcut } from '~/ui/shortcuts';
import type { Asked } from './asked';

const load = () => import('./NearestDialog').then((m) => ({ default: m.NearestDialog }));
const NearestDialog = lazy(load);
/** The dialog is fetched so long after a screen that has the key, so that it answers at once, ms. */
const AFTER_MS = 1500;

const NearestContext = createContext<(asked: Asked & { condition: Condition }) => void>(() => undefined);

/** Where the nearest can be asked for. */
export function NearestProvider({ children }: { children: ReactNode }) {
  const [asked, setAsked] = useState<(Asked & { condition: Condition }) | null>(null);
  return (
    <NearestContext value={setAsked}>
      {children}
      <Suspense>{asked && <NearestDialog asked={asked} onClose={() => setAsked(null)} />}</Suspense>
    </NearestContext>
  );
}

/**
 * Asks for the nearest to a colour in books and libraries; under the condition of the screen, where no other is given.
 */
export function useNearest(): (asked: Asked & { condition?: Condition }) => void {
  const ask = useContext(NearestContext);
  const condition = useCondition();
  return useCallback(
    (asked: Asked & { condition?: Condition }) => ask({ condition, ...asked }),
    [ask, condition],
  );
}

/** Hears the key while a screen is shown. @param chosen what is chosen then; null for nothing */
export function useNearestKey(chosen: () => Asked | null): void {
  const ask = useNearest();
  useShortcut('nearest', () => {
    const asked = chosen();
    if (!asked) return false;
    ask(asked);
  });
  useEffect(() => {
    const timer = setTimeout(() => void load().catch(() => undefined), AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
}
