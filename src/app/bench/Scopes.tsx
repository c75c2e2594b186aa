/**
 * The scopes beside the picture: two or three, chosen freely, with the mark of what the pointer is over; marking in
 * one shows in the picture.
 */
import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Plus, SlidersHorizontal, X } from 'lucide-react';
import { Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import styled from 'styled-components';
import { useShallow } from 'zustand/react/shallow';
import { chromaPct, hueDeg, NEUTRAL_CHROMA_PCT, rgbToYcbcr } from '../../core/color/ycbcr';
import { wrap180 } from '../../core/math/angle';
import { SCOPE_KINDS } from '../../core/scopes/reduce';
import type { ScopeKind } from '../../core/scopes/reduce';
import { patchesOf, projectOf, shotsOf } from '../../document/records';
import type { ShotRecord } from '../../document/records';
import type { ScopeReply } from '../../protocol/messages';
import { Button, Dim, IconButton, Line, Select, Switch, ToggleButton } from '../../ui/controls';
import { formatNumber, NumberBox } from '../../ui/NumberBox';
import { ParamSlider } from '../../ui/ParamSlider';
import { scales } from '../../ui/scopes/draw';
import type { LineLook, Look, Pen, ScaleName } from '../../ui/scopes/draw';
import { shotState } from '../actions';
import { engine } from '../engine';
import { asideFailed } from '../notices';
import { useLive } from '../live';
import { holdReference } from '../reference';
import { useDoc, useSession } from '../store';
import { noGesture } from './helpers';
import { keyFromScope, marking, paintMark, paintScope, paintSelect, selectSaid } from './scopePaint';
import { kindNames, slotOf, useScopePx } from './scopeSlots';
import type { ScopeSlot } from './scopeSlots';

const Column = styled.aside`
  height: 100%;
  display: flex;
  flex-direction: column;
  background: var(--rail);
  border-left: 1px solid var(--line);
  min-height: 0;
  overflow: hidden;
  contain: strict;
`;
const Head = styled.div`
  display: flex;
  align-items: center;
  height: 28px;
  flex: none;
  padding: 0 6px 0 10px;
  gap: 2px;
  select {
    border: none;
    background: none;
    color: var(--dim);
    min-width: 0;
    font-size: 12.5px;
    padding: 0;
  }
  select:first-child {
    color: var(--text);
    font-weight: 600;
    flex: none;
  }
  select:nth-child(2) {
    flex: 1;
    text-align: right;
  }
`;
const Well = styled.div`
  margin: 0 10px;
  position: relative;
  flex: 1;
  min-height: 0;
  canvas {
    display: block;
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    border-radius: 3px;
    touch-action: none;
    cursor: crosshair;
    outline: none;
  }
  canvas:focus-visible {
    box-shadow: 0 0 0 2px var(--bright);
  }
`;
const Edge = styled(Separator)`
  height: 5px;
  margin: -1px 0;
  cursor: row-resize;
  outline: none;
  flex: none;
  &:hover,
  &:focus-visible {
    background: var(--track);
  }
`;
const Said = styled.div`
  padding: 5px 12px 7px;
  flex: none;
  height: 74px;
  font-size: 12px;
  color: var(--dim);
  line-height: 1.36;
  overflow: hidden;
  border-top: 1px solid var(--line);
  b {
    color: var(--text);
    font-weight: 600;
  }
  .row {
    display: flex;
    align-items: center;
    gap: 4px;
  }
  .row > span {
    flex: 1;
    min-width: 0;
  }
`;
const Pop = styled(Popover)`
  background: var(--well);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 8px 12px 10px;
  width: 264px;
  box-shadow: 0 6px 18px rgb(0 0 0 / 40%);
  select {
    max-width: 150px;
  }
  h3 {
    font-size: 12px;
    font-weight: 600;
    color: var(--dim);
    margin: 6px 0 2px;
  }
`;

/** A canvas in device pixels that is redrawn when `paint` changes; pressing and keys mark in it. */
function ScopeCanvas({
  slot,
  index,
  name,
  paint,
  line,
}: {
  slot: ScopeSlot;
  index: number;
  name: string;
  paint: (p: Pen) => void;
  line: number;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(paint);
  latest.current = paint;
  const frame = useRef(0);
  const draw = useCallback((): void => {
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
  }, []);
  useEffect(draw, [paint, draw]);
  useLayoutEffect(() => {
    const size = (): void => {
      const el = ref.current;
      if (!el || el.clientWidth < 8 || el.clientHeight < 8) return;
      const k = window.devicePixelRatio || 1;
      const side = Math.min(el.clientWidth, el.clientHeight) - 8;
      const px = (slot.kind === 'vector'
        ? [side, side]
        : slot.kind === 'strip'
          ? [el.clientWidth - 8, el.clientHeight - 24]
          : [el.clientWidth - 38, el.clientHeight - 8]
      ).map((v) => Math.max(8, Math.round(v * k))) as unknown as readonly [number, number];
      const old = useScopePx.getState().px[index];
      if (!old || old[0] !== px[0] || old[1] !== px[1]) useScopePx.setState((s) => ({ px: { ...s.px, [index]: px } }));
      draw();
    };
    size();
    const ro = new ResizeObserver(size);
    ro.observe(ref.current!);
    void document.fonts.ready.then(draw);
    return () => ro.disconnect();
  }, [slot.kind, index, draw]);
  const hand = useMemo(() => marking(index, slot, line), [index, slot, line]);
  const at = (e: { clientX: number; clientY: number }): [number, number, number, number] => {
    const r = ref.current!.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top, r.width, r.height];
  };
  return (
    <canvas
      ref={ref}
      role="img"
      tabIndex={0}
      aria-label={
        `${name}. Drag to mark a part of it; the picture shows what that is. Keys: arrows mark ` +
        `and move, Shift and arrows widen, Escape clears.`
      }
      onPointerDown={(e) => {
        if (e.button === 0) {
          e.currentTarget.setPointerCapture(e.pointerId);
          hand.down(...at(e));
        }
      }}
      onPointerMove={(e) => e.buttons & 1 && hand.move(...at(e))}
      onPointerUp={() => hand.up()}
      onKeyDown={(e) => {
        if (hand.key(e.key, e.shiftKey, ref.current!.clientWidth, ref.current!.clientHeight)) {
          e.preventDefault();
          e.stopPropagation();
        }
      }}
    />
  );
}

/** Ghosts of other shots and of the held reference: asked for when what they show changes. */
function useGhosts(slots: readonly ScopeSlot[], line: number): Record<string, ScopeReply> {
  const px = useScopePx((s) => s.px);
  const reference = useSession((s) => s.reference);
  const [out, setOut] = useState<Record<string, ScopeReply>>({});
  const others = useDoc(
    useShallow((s) => slots.map((x) => (x.ghost.startsWith('shot:') ? s.records[x.ghost] : undefined))),
  );
  const wanted = JSON.stringify(slots.map((s, i) => [s.ghost, s.kind, s.zoom, px[i], others[i]?.id]));
  useEffect(() => {
    let gone = false;
    setOut({});
    slots.forEach((s, i) => {
      const other = others[i];
      const state =
        s.ghost === 'reference'
          ? reference?.state
          : other?.type === 'shot'
            ? shotState(useDoc.getState().records, other)
            : undefined;
      const size = px[i];
      if (!state || !size) return;
      engine()
        .request('scopes', {
          shot: state,
          focus: null,
          skinLineDeg: line,
          scopes: [{ kind: s.kind, over: 'whole', when: 'after', zoom: s.kind === 'vector' ? s.zoom : 1, px: size }],
        })
        .then(
          ([r]) => !gone && r && setOut((o) => ({ ...o, [`${i}ghost`]: r })),
          asideFailed('The ghost in a scope was not renewed'),
        );
    });
    return () => {
      gone = true;
    };
    // `wanted` stands for slots, px and others.
  }, [wanted, reference, line]);
  return out;
}

const TRACE = {
  min: 40,
  max: 250,
  ui: [40, 250] as const,
  unit: 'pct' as const,
  step: 5,
  default: 100,
  label: 'Trace strength',
  doc: 'How bright the traces are.',
};

function Options({
  slot,
  index,
  shot,
  put,
}: {
  slot: ScopeSlot;
  index: number;
  shot: ShotRecord;
  put: (p: Partial<ScopeSlot>) => void;
}) {
  const { look, vectorTargets, bandDeg, showLine, reference, slots, set } = useSession();
  const line = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const changeDoc = useDoc((s) => s.change);
  const others = useDoc(useShallow((s) => shotsOf(s.records).filter((x) => x.id !== shot.id)));
  const setLook = (p: Partial<Look>): void => set({ look: { ...look, ...p } });
  return (
    <DialogTrigger>
      <IconButton aria-label={`Options of ${kindNames[slot.kind]}`} tip="Before or after, ghost, zoom, looks">
        <SlidersHorizontal />
      </IconButton>
      <Pop placement="left top">
        <Dialog aria-label={`Options of ${kindNames[slot.kind]}`} style={{ outline: 'none' }}>
          <Line>
            <span>Shows</span>
            <Select
              aria-label="Before or after"
              value={slot.when}
              onChange={(e) => put({ when: e.target.value as ScopeSlot['when'] })}
            >
              <option value="after">after corrections</option>
              <option value="before">before them</option>
            </Select>
          </Line>
          <Line title="Another trace behind this one, in blue-green">
            <span>Ghost</span>
            <Select aria-label="Ghost" value={slot.ghost} onChange={(e) => put({ ghost: e.target.value })}>
              <option value="none">none</option>
              <option value="before">before</option>
              {reference && <option value="reference">held: {reference.name}</option>}
              {others.map((o) => (
                <option key={o.id} value={o.id}>
                  {o.name}
                </option>
              ))}
            </Select>
          </Line>
          <Line>
            <span>
              <Dim>Keeps this frame as it looks now</Dim>
            </span>
            <Button
              look="outline"
              onPress={() => {
                set({
                  reference: holdReference(shot),
                  slots: slots.map((s, i) => (i === index ? { ...s, ghost: 'reference' } : s)),
                });
              }}
            >
              Hold as reference
            </Button>
          </Line>
          {slot.kind === 'vector' && (
            <>
              <Line>
                <span>Zoom</span>
                <Select
                  aria-label="Zoom of the vectorscope"
                  value={slot.zoom}
                  onChange={(e) => put({ zoom: Number(e.target.value) })}
                >
                  {[1, 2, 3, 4, 6, 8].map((z) => (
                    <option key={z} value={z}>
                      {z}
                      {'\u00d7'}
                    </option>
                  ))}
                </Select>
              </Line>
              <Line>
                <span>Targets of bars</span>
                <Select
                  aria-label="Targets"
                  value={vectorTargets}
                  onChange={(e) => set({ vectorTargets: Number(e.target.value) as 75 | 100 })}
                >
                  <option value={75}>75 %</option>
                  <option value={100}>100 %</option>
                </Select>
              </Line>
            </>
          )}
          <h3>All scopes</h3>
          <Line>
            <span>Scale</span>
            <Select
              aria-label="Scale"
              value={look.scale}
              onChange={(e) => setLook({ scale: e.target.value as ScaleName })}
            >
              {Object.entries(scales).map(([k, v]) => (
                <option key={k} value={k}>
                  {v}
                </option>
              ))}
            </Select>
          </Line>
          <ParamSlider
            spec={TRACE}
            value={Math.round(100 * look.strength)}
            onChange={(v) => setLook({ strength: v / 100 })}
            {...noGesture}
          />
          <Line>
            <span>Traces in colour</span>
            <Switch aria-label="Traces in colour" isSelected={look.colour} onChange={(colour) => setLook({ colour })} />
          </Line>
          <Line title="A guide: skin in neutral light spreads about 6 degrees round it.">
            <span>Skin line</span>
            <span style={{ width: 48, flex: 'none' }}>
              <NumberBox
                label="Skin line angle"
                value={line}
                min={0}
                max={360}
                digits={0}
                suffix={'\u00b0'}
                onChange={(deg) =>
                  changeDoc('Move the skin line', (r) =>
                    Object.fromEntries(
                      Object.entries(r).map(([id, x]) => [id, x.type === 'project' ? { ...x, skinLineDeg: deg } : x]),
                    ),
                  )
                }
              />
            </span>
            {'\u00b1'}
            <span style={{ width: 40 }}>
              <NumberBox
                label="Half width of the band"
                value={bandDeg}
                min={0}
                max={60}
                digits={0}
                suffix={'\u00b0'}
                onChange={(d) => set({ bandDeg: d })}
              />
            </span>
            <Switch aria-label="Skin line on or off" isSelected={showLine} onChange={(x) => set({ showLine: x })} />
          </Line>
          <Line style={{ marginTop: 4 }}>
            <span>
              {slots.length < 3 && (
                <Button
                  onPress={() =>
                    set({
                      slots: [
                        ...slots,
                        slotOf(
                          (Object.keys(SCOPE_KINDS) as ScopeKind[]).find((k) => slots.every((s) => s.kind !== k)) ??
                            'histogram',
                        ),
                      ],
                    })
                  }
                >
                  <Plus />
                  Scope
                </Button>
              )}
            </span>
            {slots.length > 1 && (
              <Button onPress={() => set({ slots: slots.filter((_, i) => i !== index) })}>
                <X />
                Take this one away
              </Button>
            )}
          </Line>
        </Dialog>
      </Pop>
    </DialogTrigger>
  );
}

const Slot = memo(function Slot({
  slot,
  index,
  shot,
  pictureWidth,
  ghost,
  line,
}: {
  slot: ScopeSlot;
  index: number;
  shot: ShotRecord;
  pictureWidth: number;
  ghost: ScopeReply | undefined;
  line: number;
}) {
  const reply = useLive((s) => s.scopes[String(index)]);
  const ownGhost = useLive((s) => s.scopes[`${index}ghost`]);
  const pick = useLive((s) => s.pick);
  const { bandDeg, showLine, look, vectorTargets, slots, set } = useSession();
  const select = useSession((s) => (s.select?.slot === index ? s.select : null));
  const patches = useDoc(useShallow((s) => patchesOf(s.records, shot.id)));
  const put = (p: Partial<ScopeSlot>): void =>
    set({
      slots: slots.map((s, i) => (i === index ? { ...s, ...p } : s)),
      ...(p.kind || p.when ? { select: null } : {}),
    });
  const paint = useMemo(() => {
    const lineLook: LineLook = { deg: line, bandDeg, show: showLine };
    const behind = slot.ghost === 'none' ? undefined : (ghost ?? ownGhost);
    return (p: Pen): void => {
      paintScope(p, slot, reply, behind, lineLook, look, vectorTargets);
      if (select) paintSelect(p, slot, select.what);
      if (pick)
        paintMark(p, slot, slot.when === 'before' ? pick.before : pick.after, (pick.x + 0.5) / pictureWidth, line);
    };
  }, [reply, ghost, ownGhost, pick, slot, line, bandDeg, showLine, look, vectorTargets, select, pictureWidth]);
  const over =
    slot.over === 'whole'
      ? 'whole picture'
      : slot.over === 'region'
        ? 'region'
        : slot.over === 'outside'
          ? 'outside'
          : (patches.find((x) => x.id === slot.over)?.name ?? 'patch');
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <Head>
        <Select
          aria-label={`Scope ${index + 1}`}
          value={slot.kind}
          onChange={(e) => put({ kind: e.target.value as ScopeKind })}
        >
          {(Object.keys(kindNames) as ScopeKind[]).map((k) => (
            <option key={k} value={k}>
              {kindNames[k]}
            </option>
          ))}
        </Select>
        <Select
          aria-label={`Scope ${index + 1} over`}
          value={slot.over}
          onChange={(e) => put({ over: e.target.value })}
        >
          <option value="whole">whole picture</option>
          <option value="region">region</option>
          <option value="outside">outside of it</option>
          {patches.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </Select>
        <Options slot={slot} index={index} shot={shot} put={put} />
      </Head>
      <Well>
        <ScopeCanvas
          slot={slot}
          index={index}
          line={line}
          name={`${kindNames[slot.kind]}, ${over}, ${slot.when}`}
          paint={paint}
        />
      </Well>
    </div>
  );
});

/** Drawn again only when the scopes, the mark or their looks change: not with every step of a drag. */
export const Scopes = memo(function Scopes({ shot, pictureWidth }: { shot: ShotRecord; pictureWidth: number }) {
  const slots = useSession((s) => s.slots);
  const line = useDoc((s) => projectOf(s.records)?.skinLineDeg ?? 123);
  const ghosts = useGhosts(slots, line);
  const layout = useDefaultLayout({
    id: `scopes-${slots.map((s) => (s.kind === 'vector' ? 'v' : 'w')).join('')}`,
    storage: localStorage,
  });
  const share = (k: ScopeKind): string =>
    k === 'vector'
      ? `${slots.length === 3 ? 46 : 56}%`
      : `${slots.length === 3 ? (slots.some((s) => s.kind === 'vector') ? 27 : 33) : 44}%`;
  return (
    <Column aria-label="Scopes">
      <div style={{ flex: 1, minHeight: 0 }}>
        <Group
          key={layoutKey(slots)}
          orientation="vertical"
          defaultLayout={layout.defaultLayout}
          onLayoutChange={layout.onLayoutChange}
          style={{ height: '100%' }}
        >
          {slots.flatMap((s, i) => [
            ...(i ? [<Edge key={`e${i}`} aria-label={`Height of scope ${i}`} />] : []),
            <Panel key={i} id={`scope${i}`} minSize="80px" defaultSize={share(s.kind)}>
              <Slot
                slot={s}
                index={i}
                shot={shot}
                pictureWidth={pictureWidth}
                ghost={ghosts[`${i}ghost`]}
                line={line}
              />
            </Panel>,
          ])}
        </Group>
      </div>
      <Figures line={line} shot={shot} />
    </Column>
  );
});
const layoutKey = (slots: readonly ScopeSlot[]): string => slots.map((s) => (s.kind === 'vector' ? 'v' : 'w')).join('');

/** What the pointer is over; else what is marked, what clips, and how the colours lie. */
function Figures({ line, shot }: { line: number; shot: ShotRecord }) {
  const pick = useLive((s) => s.pick);
  const clipped = useLive((s) => s.clipped);
  const contrast = useLive((s) => s.contrast);
  const { select, falseColour, set } = useSession();
  if (pick) {
    const [y, cb, cr] = rgbToYcbcr(...pick.after);
    const chroma = chromaPct(cb, cr);
    const hue = chroma >= NEUTRAL_CHROMA_PCT ? hueDeg(cb, cr) : null;
    return (
      <Said aria-live="off">
        <b>{pick.after.map((x) => (x * 100).toFixed(1)).join('  ')}</b> R{"'"}G{"'"}B{"'"} % {'\u00b7'} luma{' '}
        <b>{(y * 100).toFixed(1)}</b> {'\u00b7'} chroma <b>{chroma.toFixed(1)}</b>
        <br />
        {hue === null ? (
          'too neutral to read a hue'
        ) : (
          <>
            hue{' '}
            <b>
              {hue.toFixed(1)}
              {'\u00b0'}
            </b>
            ,{' '}
            <b>
              {formatNumber(wrap180(hue - line), 1, true)}
              {'\u00b0'}
            </b>{' '}
            off-line
          </>
        )}{' '}
        at {Math.floor(pick.x)}, {Math.floor(pick.y)}
        <br />
        before: {pick.before.map((x) => (x * 100).toFixed(1)).join('  ')} {'\u00b7'} 10 bit{' '}
        {pick.after.map((x) => Math.round(x * 1023)).join('  ')}
      </Said>
    );
  }
  const share = (n: number): string =>
    clipped && clipped.pixels
      ? `${((100 * n) / clipped.pixels).toFixed(n > 0 && n / clipped.pixels < 0.001 ? 3 : 1)} %`
      : '\u2013';
  return (
    <Said>
      {select ? (
        <div className="row">
          <span>
            <b>Marked:</b> {selectSaid(select.what)}
          </span>
          <Button
            look="outline"
            onPress={() => void keyFromScope(shot, select.what, line)}
            tip="Fits a key to the pixels that are marked"
          >
            Key it
          </Button>
          <Button onPress={() => set({ select: null })} tip="Clears the mark (Escape in the scope)">
            Clear
          </Button>
        </div>
      ) : (
        <div className="row">
          <span title="Pixels with a channel at or below 0, and at or above 100 %">
            Clipped: low <b>{clipped ? share(clipped.low) : '\u2013'}</b>, high{' '}
            <b>{clipped ? share(clipped.high) : '\u2013'}</b>
          </span>
          <ToggleButton
            isSelected={falseColour === 'clipped'}
            onChange={(x) => set({ falseColour: x ? 'clipped' : 'off', ...(x ? { mode: 'picture' as const } : {}) })}
            tip="Shows clipped pixels on the picture"
          >
            Show
          </ToggleButton>
        </div>
      )}
      {contrast && (
        <div
          title={
            'Colour contrast. Ends: 2nd and 98th percentile along the axis of the skin line. ' +
            'Spread: half the arc round the mean hue that holds 90 % of the chroma. Lean: where the ' +
            'middle of the trace lies.'
          }
        >
          Cool <b>{formatNumber(contrast.coolPct, 0)}</b> to warm <b>{formatNumber(contrast.warmPct, 0, true)}</b>:{' '}
          <b>{contrast.distancePct.toFixed(0)} %</b> apart
          <br />
          hues{' '}
          {contrast.hueSpreadDeg === null ? (
            'neutral'
          ) : (
            <>
              {'\u00b1'}
              <b>
                {contrast.hueSpreadDeg.toFixed(0)}
                {'\u00b0'}
              </b>
            </>
          )}
          , leans <b>{contrast.leanPct.toFixed(1)} %</b>
          {contrast.leanDeg === null ? '' : ` to ${contrast.leanDeg.toFixed(0)}\u00b0`}
        </div>
      )}
    </Said>
  );
}
