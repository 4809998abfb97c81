import { nanoid } from 'nanoid';
import { Fragment, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import {
  type Chosen,
  checkById,
  checks,
  type Finding,
  type Fix,
  fix,
  leaveAlone,
  lookAgain,
  swatchesOf,
} from '#core/check/index';
import { screenOnly } from '#core/color/index';
import { pairingsOf } from '#core/match/pairing';
import type { Options } from '#core/options';
import { allSwatches, type Library } from '#core/swatch/index';
import { Tray } from '~/features/shared/frame/Tray';
import { useNearestKey } from '~/features/shared/match/nearest';
import { ConditionButton, printable, useProfiles } from '~/features/shared/profiles/ConditionButton';
import { useChecks } from '~/features/shared/use-checks';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { ConditionContext, useCondition } from '~/ui/condition';
import { Panel, Stage, Toolbar, useShutDrawers } from '~/ui/Frame';
import { Notice } from '~/ui/notice';
import { OptionFields } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { count, swatchLabel } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { AgainstChoice } from './AgainstChoice';
import css from './Check.module.css';
import { ContrastGrid } from './ContrastGrid';
import { Detail } from './Detail';
import { Equivalents } from './Equivalents';
import { Findings } from './Findings';
import { Seen, type Sight } from './Seen';

/** In the list of checks, after the first: it has a stage of its own. */
const NEAREST = 'nearest';

/** Check: does it hold? */
export function Check() {
  const { store, book, select } = useLibrary();
  const navigate = useNavigate();
  const { library, whole } = useStore(store);
  const condition = useCondition();
  const toast = useToast();
  const shut = useShutDrawers();
  // what is in a book is not fixed: it is only held against others
  const [at, setAt] = useState(book ? NEAREST : checks[0]!.id);
  const [chosen, setChosen] = useState<Chosen>({});
  const [against, setAgainst] = useState<Library | null>(null);
  const [key, setKey] = useState<string | null>(null);
  const [sight, setSight] = useState<Sight | null>(null);
  const { found, stage, problem, stopped, complete, stop, again } = useChecks(
    whole && !book ? library : null,
    against,
    chosen,
  );
  const profiles = useProfiles(checkById(at)?.options.some((o) => o.type === 'profile'));
  const roles = useMemo(
    () =>
      [...new Set(library.groups.flatMap((g) => g.swatches.flatMap((s) => s.role ?? [])))]
        .sort()
        .map((r) => [r, r] as const),
    [library],
  );
  const check = checkById(at) ?? checks[0]!;
  const options: Options = chosen[at] ?? {};
  const here = found[at];
  const findings = here?.findings ?? [];
  const place = Math.max(
    0,
    findings.findIndex((f) => f.key === key),
  );
  const finding = findings[place] ?? null;

  const done = (id: string | null, text: string) => {
    if (id) toast({ text, ...wayBack([store, id]) });
    // the next one comes into sight by itself
    setKey(findings[place + 1]?.key ?? findings[place - 1]?.key ?? null);
  };
  const put = (one: Finding, way: Fix) =>
    done(store.edit(fix(store.rows, one, way, () => nanoid(12))), `${way.label}.`);
  const leave = (one: Finding) =>
    done(store.edit(leaveAlone(store.rows, check, one, () => nanoid(12))), `“${one.name}” is left as it is.`);

  const pairs = useMemo(() => {
    const kept = pairingsOf(library);
    return allSwatches(library).filter((s) => kept.has(s.id)).length;
  }, [library]);
  const go = (id: string) => {
    setAt(id);
    setKey(null);
    shut();
  };
  useNearestKey(() => {
    const swatch = at !== NEAREST && finding ? swatchesOf(finding, library)[0] : undefined;
    return swatch
      ? {
          color: swatch.color,
          name: swatchLabel(swatch, condition),
          not: [store.id, swatch.id],
          swap: { store, ids: [swatch.id] },
        }
      : null;
  });

  // long work can be stopped, and what was stopped begun again
  const way = (stage || stopped) && (
    <PlainButton look="link" onClick={stage ? stop : again}>
      {stage ? 'Stop' : 'Check again'}
    </PlainButton>
  );

  return (
    <>
      <Panel side="outline" label="Checks">
        {!book && (
          <div className={css.condition}>
            <ConditionButton />
          </div>
        )}
        <h2 className={`caption ${css.heading}`}>Does it hold?</h2>
        {checks.map((c, i) => (
          <Fragment key={c.id}>
            {i === (book ? 0 : 1) && (
              <Listed
                title="Nearest in a book"
                count={pairs || null}
                about={
                  book ? 'every ink beside it' : pairs > 0 ? 'equivalents kept' : 'every swatch beside it'
                }
                current={at === NEAREST}
                onChoose={() => go(NEAREST)}
              />
            )}
            {!book && (
              <Listed
                title={c.title}
                count={found[c.id] && !(c.needs && !against) ? found[c.id]!.count : null}
                about={
                  condition === screenOnly
                    ? '…'
                    : (found[c.id]?.counts ?? c.about(chosen[c.id] ?? {}, condition))
                }
                current={c.id === at}
                onChoose={() => go(c.id)}
              />
            )}
          </Fragment>
        ))}
        {!book && <Seen sight={sight} onChange={setSight} />}
      </Panel>
      {at === NEAREST && condition !== screenOnly ? (
        <Equivalents />
      ) : (
        <>
          <Stage>
            <h1 className="unseen">Check</h1>
            <Toolbar className={css.toolbar}>
              <strong>{check.title}</strong>
              <span className={css.options}>
                <OptionFields
                  declared={check.options}
                  chosen={options}
                  profiles={printable(profiles).filter(([hash]) => hash !== condition.setting.profile)}
                  roles={roles}
                  onSet={(id, value) => setChosen({ ...chosen, [at]: { ...options, [id]: value } })}
                />
                {check.needs === 'against' && <AgainstChoice onChoose={setAgainst} />}
              </span>
            </Toolbar>
            {problem ? (
              <div className={css.problem}>
                <Notice>{problem}</Notice>
              </div>
            ) : here ? (
              <div
                className={css.found}
                data-sight={sight?.eye}
                style={sight ? { filter: `url(#${sight.id})` } : undefined}
              >
                <div className={css.said}>
                  <h2 className="title">{here.title}</h2>
                  <p className="second" role="status">
                    {stage ?? (stopped ? 'Stopped: this is what was found before.' : here.detail)} {way}
                    {here.left > 0 && (
                      <>
                        {' '}
                        {count(here.left, 'finding')} left as {here.left === 1 ? 'it is' : 'they are'}.{' '}
                        <PlainButton look="link" onClick={() => store.edit(lookAgain(store.rows, check))}>
                          Look again
                        </PlainButton>
                      </>
                    )}
                  </p>
                </div>
                {check.id === 'contrast' && findings.length === 0 ? (
                  <ContrastGrid library={library} options={options} />
                ) : (
                  <Findings found={here} chosen={finding} onChoose={(f) => setKey(f.key)} />
                )}
              </div>
            ) : (
              <p className={`second ${css.waiting}`} role="status">
                {stage ?? (stopped ? 'Stopped.' : 'Looking…')} {way}
              </p>
            )}
          </Stage>
          <ConditionContext value={condition}>
            <Detail
              key={`${at} ${finding?.key}`}
              check={check}
              finding={finding}
              complete={complete}
              onFix={put}
              onLeave={leave}
              onTune={(one) => {
                select(one.swatches);
                void navigate(`/libraries/${store.id}/arrange`, { state: { tune: true } });
              }}
            />
          </ConditionContext>
          <Tray />
        </>
      )}
    </>
  );
}

function Listed({
  title,
  count,
  about,
  current,
  onChoose,
}: {
  title: string;
  count: number | null;
  about: string;
  current: boolean;
  onChoose(): void;
}) {
  return (
    <PlainButton className={css.check} aria-current={current} onClick={onChoose}>
      <span className={css.title}>
        <span>{title}</span>
        <span className="mono">{count === null ? '' : count.toLocaleString('en-GB')}</span>
      </span>
      <span className="caption">{about}</span>
    </PlainButton>
  );
}
