import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { Link } from 'react-router';
import { type ConditionSetting, INTENTS, type Intent, screenOnly, usualInkLimit } from '#core/color/index';
import { setCondition } from '#core/swatch/index';
import type { ListedProfile } from '#server/profiles';
import { listProfiles } from '~/api/assets';
import { call, valueFrom } from '~/api/call';
import { useStores } from '~/state/stores';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Notice } from '~/ui/notice';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { useAsked } from '~/ui/use-asked';
import css from './ConditionButton.module.css';

/** The profiles there are, read when they are first wanted; null until then. */
export function useProfiles(wanted = true): readonly ListedProfile[] | null {
  const { value, problem } = useAsked(wanted ? () => valueFrom(call(listProfiles, {})) : null, []);
  return problem ? [] : value;
}

/** Those that something can be printed under. */
export const printable = (profiles: readonly ListedProfile[] | null): (readonly [string, string])[] =>
  (profiles ?? []).filter((p) => p.space === 'cmyk' && p.prints).map((p) => [p.hash, p.name] as const);

const INTENT_NAMES: Record<Intent, string> = {
  relative: 'relative colorimetric',
  perceptual: 'perceptual',
  saturation: 'saturation',
  absolute: 'absolute colorimetric',
};

/** What the library is printed under, and where that is chosen. */
export function ConditionButton() {
  const condition = useCondition();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <PlainButton
        className={css.button}
        aria-haspopup="dialog"
        aria-expanded={!!anchor}
        title="Choose paper and press"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <span className="caption">Printed on</span>
        <span className={css.name}>{condition === screenOnly ? '…' : condition.name}</span>
        <span className="caption">
          {INTENT_NAMES[condition.setting.intent]} ·{' '}
          <span className="mono">{condition.setting.inkLimit}</span> % of ink
        </span>
      </PlainButton>
      <Popover anchorEl={anchor} open={!!anchor} onClose={() => setAnchor(null)}>
        {anchor && <ConditionForm onDone={() => setAnchor(null)} />}
      </Popover>
    </>
  );
}

function ConditionForm({ onDone }: { onDone(): void }) {
  const { store } = useLibrary();
  const { colors } = useStores();
  const condition = useCondition();
  const [setting, setSetting] = useState<ConditionSetting>(condition.setting);
  const [problem, setProblem] = useState('');
  const profiles = useProfiles();
  const listed = printable(profiles);
  const take = async () => {
    try {
      // it is here before the library says so, so that nothing flashes
      const made = await colors.condition(setting);
      store.edit(setCondition(store.id, setting, made.name));
      onDone();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div role="dialog" aria-label="Print condition">
      <form
        className={css.form}
        onSubmit={(e) => {
          e.preventDefault();
          void take();
        }}
      >
        <Choose
          label="profile"
          value={setting.profile}
          values={listed.length > 0 ? listed : [[setting.profile, condition.name]]}
          onChange={(profile) => setSetting({ ...setting, profile, inkLimit: usualInkLimit(profile) })}
        />
        <Choose
          label="intent"
          value={setting.intent}
          values={INTENTS.map((i) => [i, INTENT_NAMES[i]] as const)}
          onChange={(intent) => setSetting({ ...setting, intent: intent as Intent })}
        />
        <NumberField
          label="most ink"
          value={setting.inkLimit}
          min={100}
          max={400}
          step={10}
          unit="%"
          onChange={(inkLimit) => setSetting({ ...setting, inkLimit })}
        />
        <p className="caption">
          Screens and other devices go by the intent, all but absolute with black point compensation. Measured
          values are always absolute, with the paper.
        </p>
        {problem && <Notice>{problem}</Notice>}
        <div className={css.actions}>
          <Link to="/profiles" className="caption">
            Print profiles…
          </Link>
          <Button onClick={onDone}>Cancel</Button>
          <Button type="submit" variant="contained">
            Print on it
          </Button>
        </div>
      </form>
    </div>
  );
}
