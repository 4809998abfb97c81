import Popover from '@mui/material/Popover';
import Slider from '@mui/material/Slider';
import { Plus, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { type Color, differenceInWords, differenceOf, screenOnly, toHex, toLab } from '#core/color/index';
import {
  type Along,
  angleOf,
  around,
  circleById,
  countOf,
  EXTRAS,
  type Extra,
  MAX_BASES,
  type Member,
  type Placed,
  placedBases,
  ruleOf,
} from '#core/harmony/index';
import { BasePicker } from '~/features/shared/BasePicker';
import { printable, useProfiles } from '~/features/shared/profiles/ConditionButton';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useCondition } from '~/ui/condition';
import { Panel } from '~/ui/Frame';
import { NumberField, NumberFields } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Choices, Setting } from '~/ui/setting';
import { count, sideBySide } from '~/ui/swatch';
import { Tick } from '~/ui/tick';
import { WingPair } from '~/ui/wing-pair';
import { FamilyTakes } from './FamilyTakes';
import css from './HarmonyReadout.module.css';
import { moveMember } from './HarmonySource';
import { Slice } from './Slice';
import { type Family, memberName, OWN_PRESS, useFamily } from './use-family';

/** The member that is looked at, and what the family is asked for. */
export function HarmonyReadout() {
  const { harmony } = useStores();
  const { view, member } = useStore(harmony);
  const family = useFamily();
  const condition = useCondition();
  if (!family || condition === screenOnly || view !== 'family')
    return (
      <Panel side="readout" label="Family">
        <p className={`second ${css.hint}`}>
          {view === 'family'
            ? 'The chosen member is shown here, with what sets the family.'
            : 'A scale leads through one colour or several. What it is made of is set above its steps.'}
        </p>
      </Panel>
    );
  const chosen = family.members.some((m) => m.key === member) ? member : family.members[0]!.key;
  return (
    <Panel side="readout" label="Family">
      <Chosen family={family} chosen={chosen} />
    </Panel>
  );
}

function Chosen({ family, chosen }: { family: Family; chosen: string }) {
  const { harmony } = useStores();
  const { drag } = useStore(harmony);
  const { take, members, condition } = family;
  const member = members.find((m) => m.key === chosen)!;
  const move = (to: Placed) => moveMember(harmony, family, member.key, to, drag);
  const wanted: Placed = [member.lch[0] - member.lightened, member.lch[1] + member.gaveUp, member.place];
  const hold = () => {
    const held = { ...take.asked.held };
    if (member.held) delete held[member.key];
    else held[member.key] = [member.lch[0], member.lch[1], member.place];
    harmony.ask({ held });
  };
  const gave = members.filter((m) => m.gaveUp > 0.0005);
  const moved = members.filter((m) => Math.abs(m.lightened) > 0.0005);
  const outside = members.filter((m) => m.inside);
  return (
    <>
      <div className={css.face} style={{ background: toHex(member.color, condition) }} />
      <div className={css.words}>
        <h2 className="title" dir="auto">
          {memberName(member, take)}
        </h2>
        <p className={`second ${css.kind}`}>
          <span className="mono">{toHex(member.color, condition).toUpperCase()}</span>
          {' · '}
          {member.isBase ? 'base' : member.role}
          {member.held ? ' · held' : ''}
        </p>
        <NumberFields>
          <NumberField
            label="hue"
            unit="°"
            value={member.place}
            min={0}
            max={360}
            decimals={1}
            onChange={(v) => move([wanted[0], wanted[1], around(v)])}
          />
          <NumberField
            label="lightness"
            value={wanted[0]}
            min={0}
            max={1}
            step={0.01}
            decimals={3}
            onChange={(v) => move([v, wanted[1], wanted[2]])}
          />
          <NumberField
            label="chroma"
            value={wanted[1]}
            min={0}
            max={0.4}
            step={0.005}
            decimals={3}
            onChange={(v) => move([wanted[0], v, wanted[2]])}
          />
          <Tick label="hold it here" checked={member.held} onChange={hold} />
        </NumberFields>
        {member.inside && <BringInside family={family} member={member} inside={member.inside} />}
        <hr />
        <Slice family={family} chosen={chosen} onMove={move} />
        <Settings family={family} />
        <p className={`caption ${css.gave}`} role="status">
          {gave.length === 0 && moved.length === 0
            ? outside.length === 0
              ? 'Every member is inside as it is.'
              : ''
            : [
                gave.length > 0 &&
                  `${count(gave.length, 'member')} lost chroma to fit the gamut: ${gave.map((m) => `${memberName(m, take)} ${m.gaveUp.toFixed(3)}`).join(', ')}.`,
                moved.length > 0 &&
                  `${count(moved.length, 'member')} changed in lightness: ${moved.map((m) => `${memberName(m, take)} ${m.lightened > 0 ? '+' : ''}${m.lightened.toFixed(3)}`).join(', ')}.`,
              ]
                .filter(Boolean)
                .join(' ')}
        </p>
        <hr />
        <Arrangements family={family} />
        <hr />
        <Bases family={family} />
        <hr />
        <FamilyTakes family={family} />
      </div>
    </>
  );
}

/** A base outside the gamut stays as it was given; beside it stands what it would be inside. */
function BringInside({ family, member, inside }: { family: Family; member: Member; inside: Color }) {
  const { harmony } = useStores();
  const { take, condition, gamut } = family;
  const [was, is] = [toLab(member.color, condition), toLab(inside, condition)];
  return (
    <div className={css.inside}>
      <span className={css.pair}>
        <WingPair left={toHex(member.color, condition)} right={toHex(inside, condition)} />
      </span>
      <p className="caption">
        Outside {gamut.name}, and kept as it is. Inside it would be {differenceInWords(was, is)} (ΔE00{' '}
        {differenceOf(was, is).deltaE00.toFixed(1)}).
      </p>
      <PlainButton
        look="link"
        onClick={() =>
          harmony.ask({
            bases: take.asked.bases.map((b, i) => (i === member.base ? { ...b, color: inside } : b)),
          })
        }
      >
        Bring it inside
      </PlainButton>
    </div>
  );
}

const ALONG: [Along['by'], string][] = [
  ['base', 'as the base'],
  ['spread', 'spread'],
  ['curve', 'curve'],
];

function AlongSetting({
  label,
  along,
  most,
  onSet,
}: {
  label: string;
  along: Along;
  most: number;
  onSet(along: Along): void;
}) {
  return (
    <Setting label={label} value={along.by === 'base' ? 'follows base' : along.amount.toFixed(2)}>
      <Choices aria-label={label}>
        {ALONG.map(([by, words]) => (
          <PlainButton
            look="tab"
            key={by}
            aria-pressed={along.by === by}
            onClick={() => onSet({ ...along, by, amount: along.amount || (by === 'base' ? 0 : most / 3) })}
          >
            {words}
          </PlainButton>
        ))}
      </Choices>
      {along.by !== 'base' && (
        <Slider
          aria-label={`${label}, how far`}
          value={along.amount}
          min={-most}
          max={most}
          step={0.01}
          onChange={(_, v) => onSet({ ...along, amount: v as number })}
        />
      )}
      {along.by === 'curve' && (
        <Slider
          aria-label={`${label}, bend of the curve`}
          value={Math.log2(along.bend)}
          min={-2}
          max={2}
          step={0.1}
          onChange={(_, v) => onSet({ ...along, bend: 2 ** (v as number) })}
        />
      )}
    </Setting>
  );
}

function Settings({ family: { take } }: { family: Family }) {
  const { harmony } = useStores();
  const { drag } = useStore(harmony);
  const { asked } = take;
  const rule = ruleOf(asked);
  const profiles = printable(useProfiles());
  const own = useCondition();
  const steps = 'run' in rule;
  const also = asked.also ?? [];
  return (
    <>
      {rule.angle && (
        <Setting label={rule.angle.label} value={`${Math.round(angleOf(asked) * 10) / 10}°`}>
          <Slider
            aria-label={rule.angle.label}
            value={angleOf(asked)}
            min={rule.angle.min}
            max={rule.angle.max}
            step={1}
            onChange={(_, v) => harmony.ask({ angle: v as number })}
          />
        </Setting>
      )}
      {rule.count && (
        <Setting label={rule.count.label} value={countOf(asked)}>
          <Slider
            aria-label={rule.count.label}
            value={countOf(asked)}
            min={rule.count.min}
            max={rule.count.max}
            step={rule.id === 'analogous' ? 2 : 1}
            onChange={(_, v) => harmony.ask({ count: v as number })}
          />
        </Setting>
      )}
      <AlongSetting
        label={steps ? 'Lightness of the run' : 'Lightness'}
        along={asked.lightness}
        most={0.4}
        onSet={(lightness) => harmony.ask({ lightness })}
      />
      <AlongSetting
        label="Chroma"
        along={asked.chroma}
        most={0.9}
        onSet={(chroma) => harmony.ask({ chroma })}
      />
      <div className={css.ticks}>
        {(steps || rule.id === 'analogous') && (
          <Tick
            label="even steps, the same ΔE00"
            checked={!!asked.even}
            onChange={(even) => harmony.ask({ even })}
          />
        )}
        {EXTRAS.map((extra: Extra) => (
          <Tick
            key={extra}
            label={`and a ${extra === 'neutral' ? 'neutral' : `${extra} one`}`}
            checked={also.includes(extra)}
            onChange={(on) =>
              harmony.ask({ also: EXTRAS.filter((e) => (e === extra ? on : also.includes(e))) })
            }
          />
        ))}
      </div>
      {!steps && rule.id !== 'freely' && (
        <Setting label="Dragging a companion">
          <Choices aria-label="Dragging a companion">
            <PlainButton look="tab" aria-pressed={drag === 'turn'} onClick={() => harmony.dragging('turn')}>
              turns the family
            </PlainButton>
            {rule.angle && (
              <PlainButton look="tab" aria-pressed={drag === 'bend'} onClick={() => harmony.dragging('bend')}>
                bends the angle
              </PlainButton>
            )}
          </Choices>
        </Setting>
      )}
      <Line>
        <Choose
          label="keep inside"
          value={take.inside}
          values={[
            [OWN_PRESS, own.name],
            ...profiles.filter(([hash]) => hash !== own.setting.profile),
            ['rgb', 'sRGB'],
            ['p3', 'Display P3'],
          ]}
          onChange={(inside) => harmony.change({ inside })}
        />
      </Line>
    </>
  );
}

const Line = ({ children }: { children: ReactNode }) => <div className={css.line}>{children}</div>;

/** The same rule in the three orders of hue, one below the other. */
function Arrangements({ family: { take, beside, condition } }: { family: Family }) {
  const { harmony } = useStores();
  const choose = (to: (typeof beside)[number]['circle']) => {
    // what was turned by hand in one order has no meaning in another, places of bases follow from their colours
    const { held: _, ...asked } = take.asked;
    harmony.change({ asked: { ...asked, circle: to } });
  };
  return (
    <section aria-label="Arrangement of hues" className={css.arrangements}>
      <strong>Hues</strong>
      {beside.map(({ circle, members }) => (
        <PlainButton
          key={circle}
          className={css.arrangement}
          aria-pressed={circle === take.asked.circle}
          title={circleById(circle).about}
          onClick={() => choose(circle)}
        >
          <span>{circleById(circle).name}</span>
          <i style={{ background: sideBySide(members.map((m) => toHex(m.color, condition))) }} />
        </PlainButton>
      ))}
    </section>
  );
}

/** One to four bases. */
function Bases({ family: { take, condition } }: { family: Family }) {
  const { harmony } = useStores();
  const [anchor, setAnchor] = useState<{ element: HTMLElement; place: number } | null>(null);
  const { bases } = take.asked;
  const rule = ruleOf(take.asked);
  const places = placedBases(take.asked, condition);
  return (
    <section aria-label="Bases" className={css.bases}>
      <strong>{bases.length === 1 ? 'Base' : 'Bases'}</strong>
      {bases.map((base, i) => (
        <div key={i} className={css.base}>
          <PlainButton
            className={css.baseName}
            title="Choose another colour"
            onClick={(e) => setAnchor({ element: e.currentTarget, place: i })}
          >
            <i style={{ background: toHex(base.color, condition) }} />
            <span className="cut" dir="auto">
              {base.name || toHex(base.color, condition).toUpperCase()}
            </span>
            <span className="caption mono">{Math.round(places[i]![2])}°</span>
          </PlainButton>
          {bases.length > rule.bases.min && (
            <PlainButton
              look="icon"
              aria-label={`Remove ${base.name || `base ${i + 1}`}`}
              onClick={() => {
                harmony.ask({ bases: bases.filter((_, k) => k !== i), moved: {}, held: {} });
                harmony.look('0');
              }}
            >
              <X size={13} />
            </PlainButton>
          )}
        </div>
      ))}
      {bases.length < MAX_BASES && (
        <PlainButton
          look="tab"
          className={css.add}
          onClick={(e) => setAnchor({ element: e.currentTarget, place: bases.length })}
        >
          <Plus size={13} aria-hidden /> Another base
        </PlainButton>
      )}
      <Popover open={!!anchor} anchorEl={anchor?.element ?? null} onClose={() => setAnchor(null)}>
        {anchor && (
          <div role="dialog" aria-label="Base" className={css.picker}>
            <BasePicker
              onPick={({ color, name }) => {
                const next = [...bases];
                next[anchor.place] = { color, ...(name ? { name } : {}) };
                harmony.ask({ bases: next });
                setAnchor(null);
              }}
            />
          </div>
        )}
      </Popover>
    </section>
  );
}
