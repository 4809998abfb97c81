import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { lazy, Suspense, useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { screenOnly } from '#core/color/index';
import { circleById, movedTo, type Placed, plainAsked, ruleOf, rules } from '#core/harmony/index';
import { allSwatches, type Swatch } from '#core/swatch/index';
import { BasePicker, type Picked } from '~/features/shared/BasePicker';
import type { LibraryStore } from '~/state/library-store';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { droppedSwatch } from '~/ui/drag-swatch';
import { PlainButton } from '~/ui/plain-button';
import { Choices } from '~/ui/setting';
import { useToast } from '~/ui/toast';
import { StepButtons } from '../StepButtons';
import { ToTray } from '../ToTray';
import css from './HarmonySource.module.css';
import { Members } from './Members';
import { Ribbon } from './Ribbon';
import { Samples } from './Samples';
import { type Family, OWN_PRESS, useFamily } from './use-family';

const FinderDialog = lazy(() => import('./FinderDialog').then((m) => ({ default: m.FinderDialog })));
const ScaleView = lazy(() => import('./ScaleView').then((m) => ({ default: m.ScaleView })));

const VIEWS = [
  ['family', 'Family'],
  ['scale', 'Scale'],
  ['contrast', 'Contrast scale'],
] as const;

/** Gather › Harmony: colours that belong together by a rule, and scales through them. */
export function HarmonySource() {
  const { harmony } = useStores();
  // every change, for its steps
  const { view } = useStore(harmony);
  const condition = useCondition();
  const [finding, setFinding] = useState(false);
  const workspace = useWorkspace();
  const wanted = useSearchParams()[0].get('swatch');
  if (condition === screenOnly) return null;
  return (
    <div className={css.harmony}>
      {workspace && wanted && <OpenedFrom store={workspace.store} wanted={wanted} />}
      <div className={css.bar}>
        <Choices aria-label="What is made">
          {VIEWS.map(([id, label]) => (
            <PlainButton look="tab" key={id} aria-pressed={view === id} onClick={() => harmony.show(id)}>
              {label}
            </PlainButton>
          ))}
        </Choices>
        {view === 'family' && <StepButtons steps={harmony.stepsOf()} go={(way) => harmony.step(way)} />}
        <PlainButton look="tab" className={css.which} onClick={() => setFinding(true)}>
          Which rule is it…
        </PlainButton>
      </div>
      {view === 'family' ? (
        <FamilyView />
      ) : (
        <Suspense>
          <ScaleView key={view} contrast={view === 'contrast'} />
        </Suspense>
      )}
      <Suspense>{finding && <FinderDialog onClose={() => setFinding(false)} />}</Suspense>
    </div>
  );
}

/** A link may name a swatch of the library: the family it was made in is opened, or one is begun from it. */
function OpenedFrom({ store, wanted }: { store: LibraryStore; wanted: string }) {
  const { harmony } = useStores();
  const { library, whole } = useStore(store);
  const [, setSearch] = useSearchParams();
  useEffect(() => {
    if (!whole) return;
    const swatch = allSwatches(library).find((s) => s.id === wanted);
    if (swatch?.origin?.family) {
      const { inside = 'rgb', ...asked } = swatch.origin.family;
      harmony.begin(asked, inside, swatch.origin.member);
    } else if (swatch) harmony.begin(plainAsked(swatch.color, swatch.name), OWN_PRESS);
    harmony.show('family');
    setSearch({ from: 'harmony' }, { replace: true });
  }, [wanted, library, whole, harmony, setSearch]);
  return null;
}

function FamilyView() {
  const { harmony } = useStores();
  const { takes, drag, member } = useStore(harmony);
  const family = useFamily();
  if (takes.length === 0) return <Begin />;
  if (!family) return null;
  const { take } = family;
  const rule = ruleOf(take.asked);
  const put = (picked: Picked) =>
    harmony.ask({
      bases: take.asked.bases.map((b, i) => (i === 0 ? { color: picked.color, ...named(picked.name) } : b)),
    });
  return (
    <>
      <Choices className={css.rules} aria-label="Rule">
        {rules.map((r) => (
          <PlainButton
            look="tab"
            key={r.id}
            aria-pressed={r === rule}
            title={r.about}
            disabled={r.bases.min > take.asked.bases.length}
            onClick={() => {
              const { angle: _, count: __, moved: ___, held: ____, ...rest } = take.asked;
              harmony.change({ asked: { ...rest, rule: r.id } });
              harmony.look('0');
            }}
          >
            {r.name}
          </PlainButton>
        ))}
      </Choices>
      <Ribbon
        family={family}
        chosen={member}
        onChoose={(key) => harmony.look(key)}
        onMove={(key, to) => moveMember(harmony, family, key, to, drag)}
        onDropped={(event) => {
          const dropped = droppedSwatch(event);
          if (dropped) put(dropped);
        }}
      />
      <p className={`caption ${css.ends}`}>
        <span>
          hue 0°, painted at the base’s chroma; blank is outside{' '}
          {take.inside === 'p3' ? 'Display P3' : 'sRGB'}
        </span>
        <span>{family.press ? `line: ${family.press.name} · ` : ''}360° joins 0°</span>
      </p>
      <Members
        family={family}
        chosen={member}
        onChoose={(key) => harmony.look(key)}
        onAreas={(areas) =>
          harmony.change({ areas: Object.fromEntries(family.members.map((m, i) => [m.key, areas[i]!])) })
        }
      />
      <div className={css.below}>
        <Samples family={family} />
        <TakeIt family={family} />
      </div>
    </>
  );
}

const named = (name: string | undefined) => (name ? { name } : {});

/** What is asked for after a member was put elsewhere, from where it stands at this moment. */
export function moveMember(
  harmony: ReturnType<typeof useStores>['harmony'],
  family: Family,
  key: string,
  to: Placed,
  drag: 'turn' | 'bend',
) {
  const { take } = harmony;
  if (take) harmony.change({ asked: movedTo(take.asked, family.members, key, to, drag, family.condition) });
}

function TakeIt({ family }: { family: Family }) {
  const { harmony } = useStores();
  const { take, members } = family;
  const rule = ruleOf(take.asked);
  const make = () =>
    members.map(
      (m): Swatch => ({
        id: nanoid(12),
        name: (m.isBase && take.asked.bases[m.base]?.name) || '',
        kind: 'process',
        color: m.color,
        role: m.role,
        origin: {
          from: 'harmony',
          name: `${rule.name}, ${circleById(take.asked.circle).name}`,
          family: { ...take.asked, inside: take.inside },
          member: m.key,
        },
      }),
    );
  return (
    <div className={css.take}>
      <span className="caption">poster · interface · cloth</span>
      <div className={css.buttons}>
        <Button onClick={() => harmony.again()}>New take</Button>
        <ToTray
          n={members.length}
          disabled={family.waiting}
          make={make}
          isSuggested={(i) => !(members[i]?.isBase && take.asked.bases[members[i].base]?.name)}
        />
      </div>
    </div>
  );
}

/** Where nothing has been begun: which colour it starts from. */
function Begin() {
  const { harmony } = useStores();
  const workspace = useWorkspace();
  const toast = useToast();
  const begin = (picked: Picked[]) => {
    const [first] = picked;
    if (!first) return;
    const asked = plainAsked(first.color, first.name);
    harmony.begin(
      {
        ...asked,
        bases: picked.slice(0, 4).map(({ color, name }) => ({ color, ...named(name) })),
      },
      OWN_PRESS,
    );
    if (picked.length > 4) toast({ text: 'A family has up to four bases; the first four were taken.' });
  };
  const chosen = workspace
    ? workspace.store.rows.inOrder(workspace.selection).map(({ swatch }) => swatch)
    : [];
  return (
    <section
      className={css.begin}
      aria-label="Begin"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        const dropped = droppedSwatch(e);
        if (dropped) begin([dropped]);
      }}
    >
      <h2 className="title">One colour, and the rest of its family</h2>
      <p className="second">
        Choose the colour it starts from: companions by a rule, lighter and darker steps and a neutral follow,
        every one inside what your press or screen can show.
      </p>
      {chosen.length > 0 && (
        <Button variant="contained" onClick={() => begin(chosen)}>
          Start from{' '}
          {chosen.length === 1
            ? chosen[0]!.name || 'the chosen swatch'
            : `the ${chosen.length} chosen swatches`}
        </Button>
      )}
      <BasePicker onPick={(picked) => begin([picked])} />
    </section>
  );
}
