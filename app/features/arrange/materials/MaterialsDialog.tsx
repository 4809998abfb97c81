import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Slider from '@mui/material/Slider';
import { nanoid } from 'nanoid';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toHex, toRgb } from '#core/color/index';
import { type Surface, type Swatch, setSurface, subset, surfaceOf, surfacesOf } from '#core/swatch/index';
import { useStore } from '~/state/store';
import { useLibrary } from '~/state/workspace';
import { useCondition } from '~/ui/condition';
import { download } from '~/ui/download';
import { Notice } from '~/ui/notice';
import { useSize } from '~/ui/painting';
import { PlainButton } from '~/ui/plain-button';
import { Setting } from '~/ui/setting';
import { count, swatchLabel } from '~/ui/swatch';
import { useToast } from '~/ui/toast';
import css from './MaterialsDialog.module.css';
import { type Look, MaterialScene } from './scene';

/** The chosen swatches as materials: lit on a sphere and a cube, with a surface for each role. */
export function MaterialsDialog({ swatches, onClose }: { swatches: Swatch[]; onClose(): void }) {
  const { store, book } = useLibrary();
  const { library } = useStore(store);
  const condition = useCondition();
  const toast = useToast();
  const surfaces = useMemo(() => surfacesOf(library), [library]);
  const roles = useMemo(() => [...new Set(swatches.map((s) => s.role ?? ''))], [swatches]);
  const [at, setAt] = useState(0);
  /** While a slider is held; one edit when it is let go. */
  const [live, setLive] = useState<{ role: string; surface: Surface } | null>(null);
  const swatch = swatches[Math.min(at, swatches.length - 1)]!;
  const role = swatch.role ?? '';
  const surface = live?.role === role ? live.surface : surfaceOf(surfaces, role);
  const set = (part: Partial<Surface>, done: boolean) => {
    const next = { ...surface, ...part };
    if (!done) return setLive({ role, surface: next });
    setLive(null);
    store.edit(setSurface(store.rows, role, next, () => nanoid(12)));
  };
  const save = async (id: 'mtl' | 'gltf') => {
    const files = await import('./files').catch(() => null);
    if (!files) {
      toast({ text: 'Nothing was saved. The server does not answer.', stays: true });
      return;
    }
    const ids = new Set(swatches.map((s) => s.id));
    const format = files[id];
    download(
      `${(library.name || 'materials').replace(/[\\/:*?"<>|\s]+/g, '-')}.${format.endings[0]}`,
      format.encode(
        subset(library, (s) => ids.has(s.id)),
        { condition },
      ),
      format.mime,
    );
  };
  const look: Look = useMemo(
    () => ({ rgb: toRgb(swatch.color, condition), alpha: swatch.alpha ?? 1, ...surface }),
    [swatch, condition, surface],
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>{count(swatches.length, 'material')}</DialogTitle>
      <DialogContent>
        <div className={css.body}>
          <Bodies look={look} />
          <div>
            <strong className="cut" dir="auto">
              {swatchLabel(swatch, condition)}
            </strong>
            <p className="second" dir="auto">
              {role
                ? `Role: ${role}. All of this role share one surface.`
                : 'Without a role. All of them share one surface.'}
            </p>
            <Setting label="Roughness" value={surface.roughness.toFixed(2)}>
              <Slider
                aria-label="Roughness"
                disabled={book}
                value={surface.roughness}
                min={0}
                max={1}
                step={0.01}
                onChange={(_, v) => set({ roughness: v as number }, false)}
                onChangeCommitted={(_, v) => set({ roughness: v as number }, true)}
              />
            </Setting>
            <Setting label="Metalness" value={surface.metalness.toFixed(2)}>
              <Slider
                aria-label="Metalness"
                disabled={book}
                value={surface.metalness}
                min={0}
                max={1}
                step={0.01}
                onChange={(_, v) => set({ metalness: v as number }, false)}
                onChangeCommitted={(_, v) => set({ metalness: v as number }, true)}
              />
            </Setting>
            <p className="caption">
              {count(roles.length, 'role')} here. Light is white; the page’s own light is not in it.
            </p>
          </div>
        </div>
        <div className={css.chips}>
          {swatches.slice(0, 200).map((s, i) => (
            <PlainButton
              key={s.id}
              aria-pressed={i === at}
              aria-label={swatchLabel(s, condition)}
              title={`${swatchLabel(s, condition)}${s.role ? `, ${s.role}` : ''}`}
              style={{ background: toHex(s.color, condition) }}
              onClick={() => setAt(i)}
            />
          ))}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => void save('mtl')}>Save as MTL</Button>
        <Button onClick={() => void save('gltf')}>Save as glTF</Button>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The sphere and the cube; dragging turns them. */
function Bodies({ look }: { look: Look }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scene = useRef<MaterialScene | null>(null);
  const [measure, size] = useSize();
  const [none, setNone] = useState(false);
  const [turned, setTurned] = useState(0);
  useEffect(() => {
    try {
      scene.current = new MaterialScene(canvas.current!);
      setTurned((n) => n + 1);
    } catch {
      setNone(true);
    }
    return () => {
      scene.current?.end();
      scene.current = null;
    };
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: turning redraws, too
  useEffect(() => {
    scene.current?.show(look, size.width, size.height);
  }, [look, size, turned]);
  return (
    <div
      ref={measure}
      className={css.bodies}
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => {
        if (e.buttons !== 1) return;
        scene.current?.turn(e.movementX / 100);
        setTurned((n) => n + 1);
      }}
    >
      <canvas ref={canvas} role="img" aria-label="A sphere and a cube of the material, lit" hidden={none} />
      {none && (
        <Notice>This browser cannot draw 3D (WebGL is off). You can still set and save surfaces.</Notice>
      )}
    </div>
  );
}
