import { memo } from 'react';
import { type Region, rectangle } from '#core/picture/index';
import type { OpenedPicture } from '~/messages/picture-messages';
import { NumberField, NumberFields } from '~/ui/number-field';
import { PlainButton } from '~/ui/plain-button';
import { Choices, Setting } from '~/ui/setting';
import { Tick } from '~/ui/tick';
import type { Tool } from './PictureView';
import css from './RegionControl.module.css';
import type { TakeState } from './use-take';

/** Takes the palette from a part of the picture only. */
export const RegionControl = memo(function RegionControl({
  region,
  set,
  opened,
  tool,
  setTool,
}: {
  region: Region | null;
  set: TakeState['set'];
  opened: OpenedPicture;
  tool: Tool;
  setTool(tool: Tool): void;
}) {
  const choose = (next: Tool) => {
    setTool(tool === next ? 'look' : next);
    // a rectangle can be set by numbers, so that there is one to begin with
    if (next === 'rectangle' && tool !== next && !region)
      set({
        region: {
          outline: rectangle(
            Math.round(opened.width / 4),
            Math.round(opened.height / 4),
            Math.round((3 * opened.width) / 4),
            Math.round((3 * opened.height) / 4),
          ),
          outside: false,
        },
      });
  };
  const [[left, top], , [right, bottom]] =
    region?.outline.length === 4
      ? region.outline
      : ([
          [0, 0],
          [0, 0],
          [0, 0],
        ] as [number, number][]);
  const edges = { left, top, right, bottom };
  // an edge stays on its side of the one across from it, also while it is typed
  const reach = {
    left: [0, right - 1],
    top: [0, bottom - 1],
    right: [left + 1, opened.width],
    bottom: [top + 1, opened.height],
  };
  const move = (edge: keyof typeof edges, value: number) => {
    const e = { ...edges, [edge]: value };
    set({
      region: { outline: rectangle(e.left, e.top, e.right, e.bottom), outside: region?.outside ?? false },
    });
  };
  return (
    <Setting label="Region" value={region ? undefined : <span className="second">whole picture</span>}>
      <Choices aria-label="Shape of the region">
        {(['rectangle', 'freehand'] as const).map((shape) => (
          <PlainButton look="tab" key={shape} aria-pressed={tool === shape} onClick={() => choose(shape)}>
            {shape}
          </PlainButton>
        ))}
        {region && (
          <PlainButton
            look="tab"
            onClick={() => {
              setTool('look');
              set({ region: null });
            }}
          >
            whole picture
          </PlainButton>
        )}
      </Choices>
      {tool !== 'look' && (
        <p className={`caption ${css.hint}`}>
          {tool === 'rectangle'
            ? 'Drag on the picture, or set the edges in pixels.'
            : 'Draw round a part of the picture.'}
        </p>
      )}
      {region?.outline.length === 4 && (
        <NumberFields>
          {(['left', 'top', 'right', 'bottom'] as const).map((edge) => (
            <NumberField
              key={edge}
              label={edge}
              value={edges[edge]}
              min={reach[edge][0]}
              max={reach[edge][1]}
              onChange={(v) => move(edge, v)}
            />
          ))}
        </NumberFields>
      )}
      {region && (
        <Tick
          checked={region.outside}
          onChange={(outside) => set({ region: { ...region, outside } })}
          label="All but the region"
        />
      )}
    </Setting>
  );
});
