import { useEffect, useState } from 'react';
import { type Condition, screenOnly } from '#core/color/index';
import { type Gamut, pressGamutSteps } from '#core/harmony/index';

/** Pages do other things after so much of it, ms. */
const AT_ONCE_MS = 8;

/** The gamut of a press, made in pieces; null until it is there. */
export function usePressGamut(condition: Condition | null): Gamut | null {
  const [made, setMade] = useState<{ of: Condition; gamut: Gamut } | null>(null);
  useEffect(() => {
    if (!condition || condition === screenOnly) return;
    let live = true;
    const steps = pressGamutSteps(condition);
    const go = () => {
      const start = performance.now();
      while (live) {
        const { done, value } = steps.next();
        if (done) return setMade({ of: condition, gamut: value });
        if (performance.now() - start > AT_ONCE_MS) break;
      }
      if (live) setTimeout(go);
    };
    go();
    return () => {
      live = false;
    };
  }, [condition]);
  return made && made.of === condition ? made.gamut : null;
}
