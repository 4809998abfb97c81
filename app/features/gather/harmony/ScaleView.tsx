import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import Slider from '@mui/material/Slider';
import { Plus, X } from 'lucide-react';
import { nanoid } from 'nanoid';
import { useMemo, useState } from 'react';
import { tintFrom, tintLab } from '#core/books/index';
import {
  authored,
  type Color,
  type Condition,
  deltaE00,
  inkOn,
  interpolations,
  toHex,
  toLab,
  typedColor,
} from '#core/color/index';
import {
  type ContrastStep,
  contrastScale,
  type Evenness,
  MAX_STEPS,
  MIN_STEPS,
  SRGB,
  scaleOf,
  stepNames,
  usualRatios,
} from '#core/harmony/index';
import type { Swatch } from '#core/swatch/index';
import { BasePicker } from '~/features/shared/BasePicker';
import type { KeptScale } from '~/state/harmony';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Field } from '~/ui/field';
import { Notice } from '~/ui/notice';
import { Choose } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { Setting } from '~/ui/setting';
import { count } from '~/ui/swatch';
import { ToTray } from '../ToTray';
import css from './ScaleView.module.css';

const EVEN: [Evenness, string][] = [
  ['way', 'along the way'],
  ['lightness', 'in lightness'],
  ['difference', 'in ΔE00'],
];
/** What steps are named by: their contrast in a contrast scale, their lightness in other scales, or their order. */
const namings = (contrast: boolean) =>
  [
    ['{name}-{step}', contrast ? 'by contrast' : 'by lightness'],
    ...(contrast ? ([['{name}-{lightness}', 'by lightness']] as const) : []),
    ['{name}-{n}', 'in order'],
  ] as const;
/** This many hues stand side by side in a contrast scale. */
const MAX_HUES = 12;

interface Step {
  name: string;
  swatch: Swatch;
  /** Said below it. */
  says: string;
}

/** Steps through colours, or at given contrasts on a ground, or the tints of an ink. */
export function ScaleView({ contrast }: { contrast: boolean }) {
  const { harmony, books } = useStores();
  const { scale } = useStore(harmony);
  const condition = useCondition();
  const { list } = useStore(books);
  const spot =
    !contrast && scale.through.length === 1 && scale.through[0]!.ink ? scale.through[0]!.ink : null;
  const facts = list?.find((b) => b.id === spot?.origin?.book)?.facts ?? {};
  const { through, ground, ratios } = scale;
  // names and counts may change without the colours
  const contrasts = useMemo(
    () => (contrast ? through.map((t) => contrastScale(t.color, ground, ratios, condition)) : []),
    [contrast, through, ground, ratios, condition],
  );
  const rows = useMemo(() => {
    if (scale.through.length === 0) return [];
    if (contrast) return contrastRows(scale, contrasts, condition);
    if (spot) return [tintRow(spot, scale.steps, facts, condition)];
    return [plainRow(scale, condition)];
  }, [scale, contrast, contrasts, spot, facts, condition]);
  const made = rows.flatMap((r) => r.steps.flatMap((s) => (s ? [s.swatch] : [])));
  const chosen = useChosen();
  const ways = namings(contrast);
  const named = ways.some(([pattern]) => pattern === scale.pattern);
  return (
    <>
      <Through scale={scale} most={contrast ? MAX_HUES : 8} />
      {scale.through.length === 0 ? (
        <section className={css.begin} aria-label="Begin">
          <h2 className="title">
            {contrast ? 'Steps at given contrasts' : 'Steps through one colour or several'}
          </h2>
          <p className="second">
            {contrast
              ? 'Each step has a WCAG ratio on the ground, the same for every hue. Choose the first hue.'
              : 'One colour gives a scale from near white through it to near black, a spot ink the ramp of its tints. Choose where it begins.'}
          </p>
          {chosen.length > 0 && (
            <Button variant="contained" onClick={() => harmony.scale({ through: chosen.slice(0, 8) })}>
              Start from{' '}
              {chosen.length === 1
                ? chosen[0]!.name || 'the chosen swatch'
                : `the ${chosen.length} chosen swatches`}
            </Button>
          )}
          <BasePicker onPick={(picked) => harmony.scale({ through: [throughOf(picked)] })} />
        </section>
      ) : (
        <>
          <div className={css.settings}>
            <Setting label="Steps" value={scale.steps}>
              <Slider
                aria-label="Steps"
                value={scale.steps}
                min={MIN_STEPS}
                max={MAX_STEPS}
                onChange={(_, v) =>
                  harmony.scale({
                    steps: v as number,
                    ratios: contrast ? usualRatios(v as number) : scale.ratios,
                  })
                }
              />
            </Setting>
            {contrast ? (
              <ContrastSettings scale={scale} condition={condition} />
            ) : (
              !spot && (
                <>
                  <Choose
                    label="in"
                    value={scale.way}
                    values={interpolations.filter((i) => i.id !== 'srgb').map((i) => [i.id, i.name] as const)}
                    onChange={(way) => harmony.scale({ way: way as KeptScale['way'] })}
                  />
                  <Choose
                    label="even"
                    value={scale.even}
                    values={EVEN}
                    onChange={(even) => harmony.scale({ even: even as Evenness })}
                  />
                </>
              )
            )}
            {!spot && (
              <>
                <Choose
                  label="names"
                  value={named ? scale.pattern : ''}
                  values={named ? ways : [...ways, ['', 'as written'] as const]}
                  onChange={(pattern) => pattern !== '' && harmony.scale({ pattern })}
                />
                <label className={css.pattern}>
                  <span className="unseen">Pattern of the names</span>
                  <Field
                    className="mono"
                    value={scale.pattern}
                    title="{name} is what the colour is called, {lightness} its L*, {contrast} its ratio on the ground, {n} counts from 1"
                    onChange={(e) => harmony.scale({ pattern: e.target.value.slice(0, 200) })}
                  />
                </label>
              </>
            )}
          </div>
          <div className={css.rows}>
            {rows.map((row) => (
              <section key={row.name} aria-label={row.name} className={css.row}>
                {rows.length > 1 && (
                  <p className="caption cut" dir="auto">
                    {row.name}
                  </p>
                )}
                <ol className={css.steps}>
                  {row.steps.map((step, i) =>
                    step ? (
                      <li
                        key={i}
                        style={{
                          background: toHex(step.swatch.color, condition),
                          color: inkOn(step.swatch.color, condition),
                        }}
                        title={`${step.name} · ${toHex(step.swatch.color, condition)}`}
                      >
                        <span className={css.stepName} dir="auto">
                          {step.name}
                        </span>
                        <span className={`mono ${css.figure}`}>{step.says}</span>
                        <span className={`mono ${css.figure}`}>
                          {toHex(step.swatch.color, condition).toUpperCase()}
                        </span>
                      </li>
                    ) : (
                      <li key={i} className={css.none}>
                        <span className="caption">not on this ground</span>
                      </li>
                    ),
                  )}
                </ol>
                <p className="caption" role="status">
                  {row.says}
                </p>
              </section>
            ))}
          </div>
          <div className={css.take}>
            <ToTray n={made.length} make={() => made.map((s) => ({ ...s, id: nanoid(12) }))} />
          </div>
        </>
      )}
    </>
  );
}

/** The swatches that are chosen in the library, as a scale takes them. */
function useChosen(): KeptScale['through'] {
  const workspace = useWorkspace();
  return workspace
    ? workspace.store.rows.inOrder(workspace.selection).map(({ swatch }) => throughOf({ ...swatch, swatch }))
    : [];
}

/** A color a scale leads through; of a spot ink, the ink. */
const throughOf = ({
  color,
  name,
  swatch,
}: {
  color: Color;
  name?: string | undefined;
  swatch?: Swatch | undefined;
}): KeptScale['through'][number] => ({
  color,
  ...(name ? { name } : {}),
  ...(swatch?.kind === 'spot' ? { ink: swatch } : {}),
});

interface Row {
  name: string;
  steps: (Step | null)[];
  says: string;
}

const process = (name: string, color: Color, of: string): Swatch => ({
  id: '',
  name,
  kind: 'process',
  color,
  origin: { from: 'harmony', name: of },
});

function plainRow(scale: KeptScale, condition: Condition): Row {
  const colors = scaleOf({ ...scale, through: scale.through.map((t) => t.color) }, SRGB, condition);
  const of = scale.through.map((t) => nameOf(t, condition)).join(' to ');
  const labs = colors.map((c) => toLab(c, condition));
  const names = stepNames(
    scale.pattern,
    nameOf(scale.through[0]!, condition),
    labs.map(([lightness]) => ({ lightness })),
  );
  const apart = labs.slice(1).map((lab, i) => deltaE00(labs[i]!, lab));
  const [least, most] = [Math.min(...apart), Math.max(...apart)];
  return {
    name: of,
    steps: colors.map((color, i) => ({
      name: names[i]!,
      swatch: process(names[i]!, color, `a scale of ${of}`),
      says: `L* ${labs[i]![0].toFixed(0)}`,
    })),
    says:
      most - least < 0.05 * most
        ? `ΔE00 ${most.toFixed(1)} from each step to the next.`
        : `ΔE00 from ${least.toFixed(1)} to ${most.toFixed(1)} from each step to the next.`,
  };
}

function contrastRows(
  scale: KeptScale,
  made: readonly (ContrastStep | null)[][],
  condition: Condition,
): Row[] {
  return scale.through.map((through, k) => {
    const name = nameOf(through, condition);
    const found = made[k]!;
    const names = stepNames(
      scale.pattern,
      name,
      scale.ratios.map((contrast, i) => ({
        contrast,
        lightness: found[i] ? toLab(found[i].color, condition)[0] : 0,
      })),
    );
    const none = found.filter((f) => !f).length;
    return {
      name,
      steps: found.map((step, i) =>
        step
          ? {
              name: names[i]!,
              swatch: process(names[i]!, step.color, `a contrast scale of ${name}`),
              says: `${step.contrast.toFixed(2)}`,
            }
          : null,
      ),
      says:
        none > 0
          ? `${count(none, 'ratio is', 'ratios are')} more than this ground allows.`
          : 'Every step has its ratio, to 0.02, in whole numbers of 8 bits.',
    };
  });
}

function tintRow(
  ink: Swatch,
  steps: number,
  facts: Parameters<typeof tintLab>[1],
  condition: Condition,
): Row {
  const percents = Array.from({ length: steps }, (_, i) => Math.round((100 * (i + 1)) / steps));
  const from = { id: ink.origin?.book ?? '', name: ink.origin?.name ?? '' };
  return {
    name: ink.name,
    steps: percents.map((percent) => {
      const swatch =
        percent === 100
          ? ink
          : { ...tintFrom(from, ink, percent, tintLab(ink, facts, percent, condition), ''), ...origin(ink) };
      return { name: `${percent} %`, swatch, says: `L* ${toLab(swatch.color, condition)[0].toFixed(0)}` };
    }),
    says: `Tints of ${ink.name}: on the press one ink, and no ink of its own for each.`,
  };
}

/** Tints come from where their ink came from; one that came from nowhere gives none. */
const origin = (ink: Swatch) =>
  ink.origin
    ? { origin: ink.origin }
    : { origin: { from: 'harmony' as const, name: `tints of ${ink.name}` } };

const nameOf = ({ name, color }: { name?: string; color: Color }, condition: Condition) =>
  name || toHex(color, condition).slice(1);

/** The colours it leads through, or whose hues it has. */
function Through({ scale, most }: { scale: KeptScale; most: number }) {
  const { harmony } = useStores();
  const condition = useCondition();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (scale.through.length === 0) return null;
  return (
    <div className={css.through}>
      {scale.through.map((t, i) => (
        <span key={i} className={css.chip}>
          <i style={{ background: toHex(t.color, condition) }} />
          <span className="cut" dir="auto" title={authored(t.color)}>
            {nameOf(t, condition)}
          </span>
          <PlainButton
            look="icon"
            aria-label={`Remove ${nameOf(t, condition)}`}
            onClick={() => harmony.scale({ through: scale.through.filter((_, k) => k !== i) })}
          >
            <X size={13} />
          </PlainButton>
        </span>
      ))}
      {scale.through.length < most && (
        <PlainButton look="tab" className={css.add} onClick={(e) => setAnchor(e.currentTarget)}>
          <Plus size={13} aria-hidden /> another colour
        </PlainButton>
      )}
      <Popover open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {anchor && (
          <div role="dialog" aria-label="Another colour" className={css.picker}>
            <BasePicker
              onPick={(picked) => {
                harmony.scale({ through: [...scale.through, throughOf(picked)] });
                setAnchor(null);
              }}
            />
          </div>
        )}
      </Popover>
    </div>
  );
}

function ContrastSettings({ scale, condition }: { scale: KeptScale; condition: Condition }) {
  const { harmony } = useStores();
  const [ground, setGround] = useState(toHex(scale.ground, condition).toUpperCase());
  const [ratios, setRatios] = useState(scale.ratios.join(' '));
  const [problem, setProblem] = useState('');
  const [was, setWas] = useState(scale.ratios);
  // another number of steps brings its own
  if (was !== scale.ratios) {
    setWas(scale.ratios);
    if (
      ratios
        .trim()
        .split(/[\s,;]+/)
        .map(Number)
        .join(' ') !== scale.ratios.join(' ')
    )
      setRatios(scale.ratios.join(' '));
  }
  const readRatios = (text: string) => {
    setRatios(text);
    const list = text
      .trim()
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(Number);
    const wrong = list.find((r) => !(r >= 1 && r <= 21));
    if (wrong !== undefined || list.length === 0 || list.length > MAX_STEPS)
      return setProblem(
        wrong !== undefined
          ? 'A ratio lies between 1 and 21, as in “1.2 3 4.5 7”.'
          : `Type 1 to ${MAX_STEPS} ratios.`,
      );
    setProblem('');
    harmony.scale({ ratios: list, steps: Math.max(MIN_STEPS, list.length) });
  };
  const readGround = (text: string) => {
    setGround(text);
    const color = typedColor(text);
    setProblem(color ? '' : 'The ground is not a colour. Type one as #FFFFFF.');
    if (color) harmony.scale({ ground: color });
  };
  return (
    <>
      <label className={css.pattern}>
        <span className="second">ratios</span>
        <Field className="mono" value={ratios} onChange={(e) => readRatios(e.target.value)} />
      </label>
      <label className={css.ground}>
        <span className="second">on</span>
        <i style={{ background: toHex(scale.ground, condition) }} />
        <Field className="mono" value={ground} onChange={(e) => readGround(e.target.value)} />
      </label>
      {problem && <Notice>{problem}</Notice>}
    </>
  );
}
