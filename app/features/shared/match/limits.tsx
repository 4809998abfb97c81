import { METRICS, type MetricId, metricById } from '#core/color/metrics';
import { writableFacts } from '#core/formats/plan';
import { type Limits, NO_LIMITS } from '#core/match/match';
import { KINDS, type Kind } from '#core/swatch/model';
import { NumberField } from '~/ui/number-field';
import { Choose } from '~/ui/options';
import { Tick } from '~/ui/tick';

/** How the nearest is measured, and what may be found. */
export interface Asking {
  metric: MetricId;
  /** 0 for no tolerance. */
  within: number;
  substrate: string;
  /** Empty for any. */
  kind: Kind | '';
  reproducible: boolean;
  printable: boolean;
  /** A format's id; empty for any. */
  format: string;
}

export const USUAL_ASKING: Asking = {
  metric: 'de00',
  within: 0,
  substrate: '',
  kind: '',
  reproducible: true,
  printable: false,
  format: '',
};

export function limitsOf({ within, substrate, kind, reproducible, printable, format }: Asking): Limits {
  const spaces = writableFacts.find((f) => f.id === format)?.traits.spaces ?? null;
  return {
    ...NO_LIMITS,
    within: within > 0 ? within : null,
    substrate,
    kinds: kind === '' ? KINDS : [kind],
    reproducible,
    printable,
    spaces,
  };
}

export const metricName = (id: MetricId) => metricById(id).name;

/** The fields for it. */
export function AskingFields({
  asking,
  substrates,
  onChange,
}: {
  asking: Asking;
  /** Those of the books there are. */
  substrates: readonly string[];
  onChange(asking: Asking): void;
}) {
  const set = (part: Partial<Asking>) => onChange({ ...asking, ...part });
  return (
    <>
      <Choose
        label="measured by"
        value={asking.metric}
        values={METRICS.map((m) => [m.id, m.name] as const)}
        onChange={(metric) => set({ metric: metric as MetricId })}
      />
      <NumberField
        label="tolerance"
        value={asking.within}
        min={0}
        max={50}
        step={0.5}
        decimals={1}
        onChange={(within) => set({ within })}
      />
      {substrates.length > 1 && (
        <Choose
          label="on"
          value={asking.substrate}
          values={[['', 'any paper'], ...substrates.map((s) => [s, s] as const)]}
          onChange={(substrate) => set({ substrate })}
        />
      )}
      <Choose
        label="kind"
        value={asking.kind}
        values={[['', 'any'], ...KINDS.map((k) => [k, k] as const)]}
        onChange={(kind) => set({ kind: kind as Kind | '' })}
      />
      <Choose
        label="that fits"
        value={asking.format}
        values={[['', 'any file'], ...writableFacts.map((f) => [f.id, f.name] as const)]}
        onChange={(format) => set({ format })}
      />
      <Tick
        label="this press reaches it"
        checked={asking.printable}
        onChange={(printable) => set({ printable })}
      />
      <Tick
        label="no metallics or fluorescents"
        checked={asking.reproducible}
        onChange={(reproducible) => set({ reproducible })}
      />
    </>
  );
}
