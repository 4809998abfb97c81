import { toHex, toLab } from '../color/index.ts';
import { batchesOf, toleranceOf } from '../reading/compare.ts';
import { labOfSpectrum } from '../reading/figures.ts';
import { keptLab, solidOf } from '../reading/swatches.ts';
import { type Reading, readingsOf } from '../swatch/index.ts';
import { type Check, type Finding, figure, type Look, placed, plural, settled } from './check.ts';

const called = ({ data: { facts, from } }: Reading) => facts.date || from;
/** What batches of one ink have in common. */
const seriesOf = ({ data: { ink, facts } }: Reading) =>
  JSON.stringify([ink.name, facts.substrate ?? '', facts.mode ?? '']);

export const outOfTolerance: Check = {
  id: 'out-of-tolerance',
  title: 'Out of tolerance',
  options: [],
  about: () => 'measured inks and batches',

  async find({ library, condition, alone, breathe }) {
    const readings = readingsOf(library);
    const look = (lab: Look['lab'], label: string): Look => ({
      label,
      lab,
      hex: toHex({ space: 'lab', components: lab }, condition),
    });
    const findings: Finding[] = [];
    const series = new Map<string, Reading[]>();
    for (const r of readings) series.set(seriesOf(r), [...(series.get(seriesOf(r)) ?? []), r]);
    let done = 0;
    for (const own of series.values()) {
      await breathe(done, readings.length);
      done += own.length;
      const [first, ...later] = own.sort((a, b) => called(a).localeCompare(called(b)));
      if (!first) continue;
      const tolerance = toleranceOf(first.data.facts);
      const batches = batchesOf(
        first.data.ink,
        later.map((r) => r.data.ink),
        tolerance,
      );
      for (const [i, batch] of batches.entries()) {
        if (batch.isWithin) continue;
        const reading = later[i]!;
        findings.push({
          key: `${reading.id} ${figure(batch.difference, 2)}`,
          swatches: reading.refs ?? [],
          name: `${reading.name}, ${called(reading)}`,
          measure: batch.difference,
          figure: figure(batch.difference),
          says: `The solid is ${tolerance.metric.name} ${figure(batch.difference)} from the first batch, ${called(first)}, where ${tolerance.limit} is allowed. Do not print from it before the ink is put right.`,
          left: look(labOfSpectrum(solidOf(first.data.ink).spectrum), called(first)),
          right: look(batch.lab, called(reading)),
          facts:
            batch.toneShift === null
              ? []
              : [['tone at 50 %', `${batch.toneShift >= 0 ? '+' : '−'}${figure(Math.abs(batch.toneShift))}`]],
          fixes: [],
        });
      }
    }
    const byId = new Map(placed(library).map((p) => [p.swatch.id, p.swatch]));
    for (const reading of readings) {
      const swatch = byId.get(reading.refs?.[0] ?? '');
      if (!swatch) continue;
      const tolerance = toleranceOf(reading.data.facts);
      const { spectrum } = solidOf(reading.data.ink);
      const measured = labOfSpectrum(spectrum);
      const shown = toLab(swatch.color, condition);
      const difference = tolerance.metric.difference(measured, shown);
      if (difference <= tolerance.limit) continue;
      findings.push({
        key: `${reading.id} ${swatch.id} ${toHex(swatch.color, condition)}`,
        swatches: [swatch.id],
        name: swatch.name,
        measure: difference,
        figure: figure(difference),
        says: `The swatch is ${tolerance.metric.name} ${figure(difference)} from its measured ink, where ${tolerance.limit} is allowed.`,
        left: look(shown, 'here'),
        right: look(measured, `measured, ${called(reading)}`),
        facts: [],
        fixes: [
          {
            label: 'Set it to what was measured',
            steps: [
              {
                ops: [
                  {
                    op: 'set',
                    of: 'swatch',
                    id: swatch.id,
                    fields: { color: { space: 'lab', components: keptLab(spectrum) }, spectrum },
                  },
                ],
              },
            ],
          },
        ],
      });
    }
    findings.sort((a, b) => b.measure - a.measure);
    const settledFindings = settled(findings, findings.length, alone);
    return {
      ...settledFindings,
      title:
        readings.length === 0
          ? 'No measured inks in this library'
          : settledFindings.total === 0
            ? 'All measured inks are within their tolerance'
            : `${plural(settledFindings.total, 'measurement')} out of tolerance`,
      detail:
        'Each batch against the first of the same ink, substrate and mode, and each swatch against its reading; by the tolerance and formula written with the reading, ΔE00 2 where none is.',
    };
  },
};
