import Button from '@mui/material/Button';
import { nanoid } from 'nanoid';
import { useEffect, useState } from 'react';
import { type Color, fromRgb8 } from '#core/color/index';
import { allSwatches, type Swatch } from '#core/swatch/index';
import { isTunable, spreadOf } from '#core/tune/index';
import { pixelsOf } from '~/features/shared/artwork/use-painted';
import { LibraryChoice } from '~/features/shared/merge/LibraryChoice';
import { useStore } from '~/state/store';
import { useStores } from '~/state/stores';
import { useWorkspace } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { Choose } from '~/ui/options';
import { count, groupLabel } from '~/ui/swatch';
import { useAsked } from '~/ui/use-asked';
import { Track } from './Track';
import type { TuneState } from './use-tune';

const LIKE = [
  ['library', 'another library'],
  ['group', 'a group'],
  ['picture', 'a picture'],
] as const;
type Like = (typeof LIKE)[number][0];

/** Takes on where others lie together: a library's colours, a group's or a picture's. */
export function Match({ state: { tuning, set } }: { state: TuneState }) {
  const condition = useCondition();
  const workspace = useWorkspace();
  const [like, setLike] = useState<Like>('library');
  const [others, setOthers] = useState<{ colors: readonly Color[]; name: string } | null>(null);
  const percent = tuning.match?.percent ?? 50;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each choice
  useEffect(() => {
    if (others && others.colors.length > 0)
      set({ match: { spread: spreadOf(others.colors, condition), percent } });
  }, [others, condition]);
  const choices = LIKE.filter(([id]) => id !== 'group' || workspace);
  return (
    <>
      <Choose
        label="like"
        value={like}
        values={choices}
        onChange={(v) => {
          setLike(v as Like);
          setOthers(null);
        }}
      />
      {like === 'library' && <OfLibrary without={workspace?.store.id ?? ''} onColors={setOthers} />}
      {like === 'group' && workspace && <OfGroup store={workspace.store} onColors={setOthers} />}
      {like === 'picture' && <OfPicture onColors={setOthers} />}
      {others && (
        <p className="caption" role="status">
          {others.colors.length === 0
            ? `${others.name} has no colours to be like.`
            : `Like ${others.name}, ${count(others.colors.length, 'colour')}.`}
        </p>
      )}
      <Track
        label="Share"
        unit="%"
        value={percent}
        min={0}
        max={100}
        decimals={1}
        onChange={(v) => tuning.match && set({ match: { ...tuning.match, percent: v } })}
      />
      <p className="caption">Takes on their mean and their spread.</p>
    </>
  );
}

type OnColors = (others: { colors: readonly Color[]; name: string } | null) => void;

const colorsOf = (swatches: readonly Swatch[]) => swatches.filter(isTunable).map((s) => s.color);

function OfLibrary({ without, onColors }: { without: string; onColors: OnColors }) {
  const stores = useStores();
  const [id, setId] = useState('');
  const { value, problem } = useAsked(
    id ? async () => (await stores.library(id).whole()).library : null,
    [id, stores],
    { fresh: true },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each library that has come
  useEffect(() => {
    if (value) onColors({ colors: colorsOf(allSwatches(value)), name: value.name || 'that library' });
  }, [value]);
  return (
    <>
      <LibraryChoice without={without} value={id} onChange={setId} />
      {problem && (
        <p className="caption" role="alert">
          {problem}
        </p>
      )}
    </>
  );
}

function OfGroup({
  store,
  onColors,
}: {
  store: NonNullable<ReturnType<typeof useWorkspace>>['store'];
  onColors: OnColors;
}) {
  const { library } = useStore(store);
  const groups = library.groups.map((g, i) => [g.id, groupLabel(library, i)] as const);
  const [id, setId] = useState('');
  const group = library.groups.find((g) => g.id === id);
  return (
    <Choose
      label="which"
      value={group ? id : ''}
      values={[...(group ? [] : [['', 'choose a group'] as const]), ...groups]}
      onChange={(to) => {
        setId(to);
        const at = library.groups.findIndex((g) => g.id === to);
        if (at >= 0)
          onColors({ colors: colorsOf(library.groups[at]!.swatches), name: groupLabel(library, at) });
      }}
    />
  );
}

/** So many pixels a side say where a picture's colours lie. */
const SIDE = 64;

function OfPicture({ onColors }: { onColors: OnColors }) {
  const { pictures } = useStores();
  const [problem, setProblem] = useState('');
  const [reading, setReading] = useState(false);
  const take = async (file: File) => {
    setProblem('');
    setReading(true);
    const id = nanoid(12);
    try {
      const { thumbnail, width, height } = await pictures.client.ask('open', { id, file, name: file.name });
      const { data } = await pixelsOf(thumbnail, width / height, SIDE);
      const colors = Array.from({ length: data.length / 4 }, (_, i) =>
        fromRgb8(data[4 * i]!, data[4 * i + 1]!, data[4 * i + 2]!),
      );
      onColors({ colors, name: file.name });
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      pictures.client.ask('shut', { id }).catch(() => undefined);
      setReading(false);
    }
  };
  return (
    <>
      <Button component="label" disabled={reading}>
        {reading ? 'Reading the picture…' : 'Choose a picture…'}
        <input
          type="file"
          hidden
          accept="image/*,.psd,.psb,.qoi"
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) void take(file);
            e.target.value = '';
          }}
        />
      </Button>
      {problem && (
        <p className="caption" role="alert">
          {problem}
        </p>
      )}
    </>
  );
}
