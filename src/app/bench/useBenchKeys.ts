import { useEffect, useRef } from 'react';
import { correctionsOf } from '../../document/records';
import type { CorrectionRecord, ShotRecord } from '../../document/records';
import { addBase, addCorrection } from '../actions';
import { playhead, setRange } from '../cut';
import { keyHere, nearKey } from '../keying';
import { isTyping } from '../keys';
import { nearMarker, toggleMarker } from '../markers';
import { sayNews } from '../notices';
import { aspectOf } from '../pixelAspect';
import { compareWithThis } from '../reference';
import { player } from '../player';
import { useDoc, useSession } from '../store';
import type { ViewMode } from '../../protocol/messages';
import type { Sampling, StepName, ToolName } from '../store';
import { bringCommand } from './BringBox';
import { toggleHold } from './hold';
import { shuttle } from './TimeStrip';

const VIEWS = ['picture', 'cutout', 'matte', 'tint', 'change', 'edge'] as const;
/** What one key goes through; a map of change is another question. */
const CYCLE = ['picture', 'cutout', 'matte', 'tint', 'edge'] as const;
const STEPS: StepName[] = ['isolate', 'tidy', 'correct', 'check'];

/** Keys of time, for shots of more than one frame; true when it was one. */
function timeKey(e: KeyboardEvent, shot: ShotRecord, corr: CorrectionRecord | null): boolean {
  const k = e.key.toLowerCase();
  const frame = useSession.getState().frame;
  const toKey = (by: 1 | -1): void => {
    const f = nearKey(corr, frame, by);
    if (f !== null) player.go(f);
  };
  // Arrows step frames where nothing else has the focus that could use them.
  const t = e.target as HTMLElement | null;
  const free = !t || t === document.body || t.getAttribute('role') === 'application';
  const does: Record<string, () => void> = {
    // A button that has the focus is pressed by it.
    ...(t?.closest('button, a, [role="button"]') ? {} : { ' ': () => player.toggle() }),
    j: () => (e.shiftKey ? toKey(-1) : shuttle(-1)),
    k: () => (e.shiftKey ? corr && keyHere(corr.id) : player.stop()),
    l: () => (e.shiftKey ? toKey(1) : shuttle(1)),
    ';': () => toggleMarker(shot, playhead(shot)),
    ',': () => nearMarker(shot, playhead(shot), -1),
    '.': () => nearMarker(shot, playhead(shot), 1),
    i: () => setRange(shot, e.shiftKey ? 'out' : 'in', playhead(shot)),
    ...(free
      ? {
          arrowleft: () => player.step(e.shiftKey ? -10 : -1),
          arrowright: () => player.step(e.shiftKey ? 10 : 1),
          home: () => player.go(shot.range[0]),
          end: () => player.go(shot.range[1]),
        }
      : {}),
  };
  const f = does[k];
  f?.();
  return f !== undefined;
}

export function useBenchKeys(shot: ShotRecord | null, corr: CorrectionRecord | null): void {
  const latest = useRef({ shot, corr });
  latest.current = { shot, corr };
  useEffect(() => {
    const down = (e: KeyboardEvent): void => {
      const { shot: sh, corr: c } = latest.current;
      if (!sh || isTyping(e) || e.ctrlKey || e.metaKey || e.defaultPrevented) return;
      const s = useSession.getState();
      const digit = /^Digit([1-6])$/.exec(e.code);
      if (digit) {
        const i = Number(digit[1]) - 1;
        if (e.altKey) {
          if (STEPS[i]) s.set({ step: STEPS[i] });
        } else s.set({ mode: VIEWS[i]! });
        e.preventDefault();
        return;
      }
      if (e.altKey) return;
      if (sh.range[1] > sh.range[0] && timeKey(e, sh, c)) {
        e.preventDefault();
        return;
      }
      const tool = (t: ToolName): void => s.set({ tool: s.tool === t ? 'none' : t });
      const sample = (how: Sampling): void =>
        s.set(s.tool === 'key' && s.sampling === how ? { tool: 'none' } : { tool: 'key', sampling: how });
      const near = (d: number): void => {
        const list = correctionsOf(useDoc.getState().records, sh.id);
        const next = list[list.findIndex((x) => x.id === c?.id) + d];
        if (next) s.set({ correction: next.id, term: null, conversionOpen: false });
      };
      const zoom = (f: number): void => {
        const el = document.querySelector<HTMLElement>('[role="application"]');
        const m = useDoc.getState().records[sh.media];
        if (!el || m?.type !== 'media') return;
        const fit = Math.min(el.clientWidth / (m.width * aspectOf(m)), el.clientHeight / m.height);
        s.set({
          zoom: {
            scale: Math.min(32, Math.max(0.05, (s.zoom?.scale ?? fit) * f)),
            cx: s.zoom?.cx ?? m.width / 2,
            cy: s.zoom?.cy ?? m.height / 2,
          },
        });
      };
      const does: Record<string, () => void> = {
        n: () => addCorrection(sh.id),
        m: () => addBase(sh.id),
        c: () => sample(e.shiftKey ? 'add' : 'again'),
        x: () => sample('take'),
        g: () => tool(e.shiftKey ? 'leaveStroke' : 'keepStroke'),
        e: () => tool(e.shiftKey ? 'shape:box' : 'shape:ellipse'),
        y: () => tool(e.shiftKey ? 'shape:band' : 'shape:ramp'),
        d: () => tool('shape:freeform'),
        p: () => tool('patch'),
        u: () => tool('patchFree'),
        h: () => {
          if (e.shiftKey) return compareWithThis(sh);
          s.set({ shelf: true, shelfTab: 'chart' });
          tool('chart');
        },
        b: () => s.set({ bypass: !s.bypass }),
        o: () => s.set({ mode: CYCLE[(CYCLE.indexOf(s.mode as 'matte') + 1) % CYCLE.length]! }),
        z: () => peek(e.repeat),
        w: () => {
          const to = e.shiftKey ? 'blink' : 'wipe';
          s.set({ compare: s.compare === to ? 'off' : to });
        },
        s: () => s.set({ compare: s.compare === 'side' ? 'off' : 'side' }),
        r: () => s.set({ shelf: !s.shelf }),
        q: () => s.set({ room: s.room === 'scopes' ? 'all' : 'scopes' }),
        a: () => s.set({ room: s.room === 'picture' ? 'all' : 'picture' }),
        f: () => {
          if (e.shiftKey) return toggleHold(sh);
          const m = useDoc.getState().records[sh.media];
          if (m?.type === 'media') s.set({ zoom: s.zoom ? null : { scale: 1, cx: m.width / 2, cy: m.height / 2 } });
        },
        v: () => {
          const list = ['off', 'levels', 'offLine', 'chroma', 'clipped'] as const;
          s.set({ mode: 'picture', falseColour: list[(list.indexOf(s.falseColour as 'off') + 1) % list.length]! });
        },
        '+': () => zoom(1.25),
        '=': () => zoom(1.25),
        '-': () => zoom(0.8),
        '[': () => near(-1),
        ']': () => near(1),
        t: () => {
          if (e.shiftKey) tool('skinPress');
          else if (bringCommand.run) bringCommand.run();
          else sayNews('Bring to line stands in Correct (Alt 3) of a correction: open it first.');
        },
      };
      const f = does[e.key.toLowerCase()];
      if (!f) return;
      e.preventDefault();
      f();
    };
    // Held, one key shows the matte (of the matte, the picture); let go, what was there before.
    let before: ViewMode | null = null;
    const peek = (repeat: boolean): void => {
      const s = useSession.getState();
      if (repeat || before) return;
      before = s.mode;
      s.set({ mode: s.mode === 'matte' ? 'picture' : 'matte' });
    };
    const back = (e?: KeyboardEvent): void => {
      if (!before || (e && e.key.toLowerCase() !== 'z')) return;
      useSession.getState().set({ mode: before });
      before = null;
    };
    const left = (): void => back();
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', back);
    window.addEventListener('blur', left);
    return () => {
      back();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', back);
      window.removeEventListener('blur', left);
    };
  }, []);
}
