/** The scopes beside the picture: vectorscope, skin strip, waveform, with the mark of what the pointer is over. */
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../../core/color/ycbcr';
import { wrap180 } from '../../core/math/angle';
import { STRIP_SIZE, VECTOR_SIZE, WAVE_SIZE } from '../../core/scopes/reduce';
import { Select, SmallHead, ToggleButton } from '../../ui/controls';
import { formatNumber, NumberBox } from '../../ui/NumberBox';
import { drawMark, drawStrip, drawVector, drawWave, stripX, stripY, vectorGeometry, waveX, waveY } from '../../ui/scopes/draw';
import type { LineLook, Pen } from '../../ui/scopes/draw';
import { useLive } from '../live';
import { useDoc, useSession } from '../store';
import { projectOf } from '../../document/records';

const Column = styled.aside`
  height: 100%; display: flex; flex-direction: column; background: var(--rail); border-left: 1px solid var(--line); min-height: 0; overflow: hidden; contain: strict;
`;
const Well = styled.div`
  margin: 0 12px; position: relative; min-height: 0;
  canvas { display: block; position: absolute; inset: 0; width: 100%; height: 100%; border-radius: 3px; }
`;
const Said = styled.div`
  margin: 6px 12px 8px; min-height: 34px; font-size: 12px; color: var(--dim); line-height: 1.4;
  b { color: var(--text); font-weight: 600; }
`;

/** A canvas in device pixels that is redrawn when `paint` changes. */
function ScopeCanvas({ name, paint }: { name: string; paint: (p: Pen) => void }) {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(paint);
  latest.current = paint;
  const frame = useRef(0);
  const draw = (): void => {
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      const el = ref.current;
      if (!el || el.clientWidth === 0) return;
      const k = window.devicePixelRatio || 1;
      const [w, h] = [Math.round(el.clientWidth * k), Math.round(el.clientHeight * k)];
      if (el.width !== w || el.height !== h) [el.width, el.height] = [w, h];
      const c = el.getContext('2d')!;
      c.setTransform(k, 0, 0, k, 0, 0);
      latest.current({ c, w: el.clientWidth, h: el.clientHeight });
    });
  };
  useEffect(draw, [paint]);
  useEffect(() => {
    const ro = new ResizeObserver(draw);
    ro.observe(ref.current!);
    void document.fonts.ready.then(draw);
    return () => ro.disconnect();
  }, []);
  return <canvas ref={ref} role="img" aria-label={name} />;
}

const EMPTY = { v: new Uint32Array(VECTOR_SIZE), w: new Uint32Array(WAVE_SIZE), s: new Uint32Array(STRIP_SIZE) };

/** Drawn again only when the scopes, the mark or their looks change: not with every step of a drag. */
export const Scopes = memo(function Scopes({ pictureWidth }: { pictureWidth: number }) {
  const scopes = useLive((s) => s.scopes);
  const pick = useLive((s) => s.pick);
  const { scopesOver, bandDeg, showLine, correction, set } = useSession();
  const line = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const changeDoc = useDoc((s) => s.change);
  const [narrow, setNarrow] = useState(false);
  const col = useRef<HTMLElement>(null);
  useEffect(() => {
    const ro = new ResizeObserver(([e]) => setNarrow(e!.contentRect.height < e!.contentRect.width * 2.2));
    ro.observe(col.current!);
    return () => ro.disconnect();
  }, []);
  const spot = useMemo(() => (pick ? rgbToYcbcr(...pick.after) : null), [pick]);
  const chroma = spot ? chromaPct(spot[1], spot[2]) : 0;
  const off = spot && chroma >= NEUTRAL_CHROMA_PCT ? wrap180(hueDeg(spot[1], spot[2]) - line) : null;
  const { vector, strip, wave } = useMemo(() => {
    const look: LineLook = { deg: line, bandDeg, show: showLine };
    const v = scopes ? scopes.subarray(0, VECTOR_SIZE) : EMPTY.v;
    const w = scopes ? scopes.subarray(VECTOR_SIZE, VECTOR_SIZE + WAVE_SIZE) : EMPTY.w;
    const s = scopes ? scopes.subarray(VECTOR_SIZE + WAVE_SIZE) : EMPTY.s;
    return {
      vector: (p: Pen): void => {
        drawVector(p, v, look);
        if (!spot) return;
        const g = vectorGeometry(p.w, p.h);
        drawMark(p, g.x + spot[1] * g.k, g.y - spot[2] * g.k);
      },
      strip: (p: Pen): void => {
        drawStrip(p, s, look);
        if (spot && off !== null && Math.abs(off) <= 60) drawMark(p, stripX(off, p.w), stripY(spot[0], p.h));
      },
      wave: (p: Pen): void => {
        drawWave(p, w);
        if (spot && pick) drawMark(p, waveX((pick.x + 0.5) / pictureWidth, p.w), waveY(spot[0], p.h));
      },
    };
  }, [scopes, spot, off, pick, pictureWidth, line, bandDeg, showLine]);
  const over = scopesOver === 'region' && correction ? 'region' : 'whole picture';
  return (
    <Column ref={col} aria-label="Scopes">
      <SmallHead>
        Vectorscope
        <Select aria-label="Scopes over" value={scopesOver} onChange={(e) => set({ scopesOver: e.target.value as 'whole' | 'region' })} style={{ border: 'none', background: 'none', color: 'var(--dim)' }}>
          <option value="whole">whole picture</option>
          <option value="region">region</option>
        </Select>
      </SmallHead>
      <Well style={{ aspectRatio: '1', maxHeight: narrow ? '38%' : '48%' }}>
        <ScopeCanvas name={`Vectorscope of the ${over}`} paint={vector} />
      </Well>
      <SmallHead>
        Skin strip
        <span style={{ display: 'flex', alignItems: 'center', gap: 2, fontWeight: 400 }}>
          <ToggleButton isSelected={showLine} onChange={(x) => set({ showLine: x })} tip="Shows or hides the skin line and its band. It is a guide: skin in neutral light spreads about 6 degrees round it.">
            line
          </ToggleButton>
          <span style={{ width: 44 }}>
            <NumberBox label="Skin line angle" value={line} min={0} max={360} digits={0} suffix={'\u00b0'} onChange={(deg) => changeDoc('Move the skin line', (r) => Object.fromEntries(Object.entries(r).map(([id, x]) => [id, x.type === 'project' ? { ...x, skinLineDeg: deg } : x])))} />
          </span>
          {'\u00b1'}
          <span style={{ width: 36 }}>
            <NumberBox label="Half width of the band" value={bandDeg} min={0} max={60} digits={0} suffix={'\u00b0'} onChange={(d) => set({ bandDeg: d })} />
          </span>
        </span>
      </SmallHead>
      <Well style={{ flex: '1 1 110px' }}>
        <ScopeCanvas name={`Skin strip of the ${over}`} paint={strip} />
      </Well>
      <SmallHead>Waveform, luma %</SmallHead>
      <Well style={{ flex: '1 1 130px' }}>
        <ScopeCanvas name={`Luma waveform of the ${over}`} paint={wave} />
      </Well>
      <Said aria-live="off">
        {pick && spot ? (
          <>
            <b>{pick.after.map((x) => (x * 100).toFixed(1)).join('  ')}</b> R'G'B' % {'\u00b7'} luma <b>{(spot[0] * 100).toFixed(1)}</b> {'\u00b7'} chroma <b>{chroma.toFixed(1)}</b>
            <br />
            {off === null ? 'too neutral to read a hue' : <>hue <b>{hueDeg(spot[1], spot[2]).toFixed(1)}{'\u00b0'}</b>, <b>{formatNumber(off, 1, true)}{'\u00b0'}</b> off-line</>} at {Math.floor(pick.x)}, {Math.floor(pick.y)}
          </>
        ) : (
          'Move over the picture to read a colour here and in all three scopes.'
        )}
      </Said>
    </Column>
  );
});
