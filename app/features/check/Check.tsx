import { nanoid } from 'nanoid';
import { useMemo, useState } from 'react';
import {
  type Chosen,
  checkById,
  checks,
  type Finding,
  leaveAlone,
  lookAgain,
  type Mend,
  mend,
} from '#core/check/index';
import { screenOnly } from '#core/color/index';
import type { Options } from '#core/options';
import type { Library } from '#core/swatch/index';
import { ConditionContext, useCondition } from '~/state/condition';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { Notice } from '~/ui/notice';
import { OptionFields } from '~/ui/options';
import { PlainButton } from '~/ui/plain-button';
import { count } from '~/ui/swatch';
import { useToast, wayBack } from '~/ui/toast';
import { Panel, Stage, Toolbar, useShutDrawers } from '../frame/Frame';
import { ConditionButton, printable, useProfiles } from '../profiles/ConditionButton';
import { AgainstChoice } from './AgainstChoice';
import css from './Check.module.css';
import { ContrastGrid } from './ContrastGrid';
import { Detail } from './Detail';
import { Findings } from './Findings';
import { Seen, type Sight } from './Seen';
import { useChecks } from './use-checks';

/** Check: does it hold? */
export function Check() {
  const { store } = useLibrary();
  const { library, whole } = useStore(store);
  const condition = useCondition();
  const toast = useToast();
  const shut = useShutDrawers();
  const [at, setAt] = useState(checks[0]!.id);
  const [chosen, setChosen] = useState<Chosen>({});
  const [against, setAgainst] = useState<Library | null>(null);
  const [key, setKey] = useState<string | null>(null);
  const [sight, setSight] = useState<Sight | null>(null);
  const { found, stage, problem, stopped, complete, stop, again } = useChecks(
    whole ? library : null,
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
  const check = checkById(at)!;
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
  const put = (one: Finding, way: Mend) =>
    done(store.edit(mend(store.rows, one, way, () => nanoid(12))), `${way.label}.`);
  const leave = (one: Finding) =>
    done(store.edit(leaveAlone(store.rows, check, one, () => nanoid(12))), `“${one.name}” is left as it is.`);

  // long work can be stopped, and what was stopped begun again
  const way = (stage || stopped) && (
    <PlainButton look="link" onClick={stage ? stop : again}>
      {stage ? 'Stop' : 'Check again'}
    </PlainButton>
  );

  return (
    <>
      <Panel side="outline" label="Checks">
        <div className={css.condition}>
          <ConditionButton />
        </div>
        <h2 className={`caption ${css.heading}`}>Does it hold?</h2>
        {checks.map((c) => (
          <PlainButton
            key={c.id}
            className={css.check}
            aria-current={c.id === at}
            onClick={() => {
              setAt(c.id);
              setKey(null);
              shut();
            }}
          >
            <span className={css.title}>
              <span>{c.title}</span>
              <span className="mono">
                {found[c.id] && !(c.needs && !against) ? found[c.id]!.count.toLocaleString('en-GB') : ''}
              </span>
            </span>
            <span className="caption">
              {condition === screenOnly
                ? '…'
                : (found[c.id]?.counts ?? c.about(chosen[c.id] ?? {}, condition))}
            </span>
          </PlainButton>
        ))}
        <Seen sight={sight} onChange={setSight} />
      </Panel>
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
          onMend={put}
          onLeave={leave}
        />
      </ConditionContext>
    </>
  );
}
