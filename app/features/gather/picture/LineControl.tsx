import { useState } from 'react';
import type { OpenedPicture } from '~/messages/picture-messages';
import { NumberField, NumberFields } from '~/ui/number-field';
import { PlainButton } from '~/ui/plain-button';
import { Choices, Setting } from '~/ui/setting';
import type { Tool } from './PictureView';

/** A gradient of the library along a line on the picture: drawn, or set by its ends in pixels. */
export function LineControl({
  opened: { width, height },
  tool,
  setTool,
  onLine,
}: {
  opened: OpenedPicture;
  tool: Tool;
  setTool(tool: Tool): void;
  onLine(from: [number, number], to: [number, number]): void;
}) {
  const [ends, setEnds] = useState({ fromX: 0, fromY: height >> 1, toX: width - 1, toY: height >> 1 });
  const drawing = tool === 'line';
  return (
    <Setting label="Gradient">
      <Choices aria-label="Gradient">
        <PlainButton look="tab" aria-pressed={drawing} onClick={() => setTool(drawing ? 'look' : 'line')}>
          along a line
        </PlainButton>
      </Choices>
      {drawing && (
        <>
          <p className="caption">
            Drag on the picture from where it begins to where it ends, or set both in pixels.
          </p>
          <NumberFields>
            {(
              [
                ['fromX', 'from x', width],
                ['fromY', 'from y', height],
                ['toX', 'to x', width],
                ['toY', 'to y', height],
              ] as const
            ).map(([key, label, most]) => (
              <NumberField
                key={key}
                label={label}
                value={ends[key]}
                min={0}
                max={most - 1}
                onChange={(v) => setEnds({ ...ends, [key]: v })}
              />
            ))}
          </NumberFields>
          <PlainButton
            look="link"
            onClick={() => {
              onLine([ends.fromX, ends.fromY], [ends.toX, ends.toY]);
              setTool('look');
            }}
          >
            Make the gradient
          </PlainButton>
        </>
      )}
    </Setting>
  );
}
