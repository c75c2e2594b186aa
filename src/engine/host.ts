/** Answers typed requests with a session: shared memory and helpers where they can be had, plain memory otherwise. */
import { CannotBring } from '../core/skin/bringToLine';
import type { ErrorReply, InitMessage, ReplyMessage, RequestMessage, ScopeReply } from '../protocol/messages';
import { Evaluator } from './evaluator';
import { Stale } from './stages';
import { startTwins } from './twins';
import { tsKernels, wasmKernels } from './kernels';
import type { Kernels } from './kernels';
import { Arena, OutOfMemory } from './memory';
import { controlBytes, SharedPool, SoloPool } from './pool';
import { Pulse } from './pulse';
import { MissingPicture, MissingTable, RunEnded, Session } from './session';

export interface HelperInit {
  memory: WebAssembly.Memory;
  /** Kernels for the shared memory, and for memory of its own. */
  wasm: ArrayBuffer;
  plain: ArrayBuffer;
  control: SharedArrayBuffer;
  thread: number;
}

/** All that 32-bit addresses reach, but a page; memory grows only as pictures need it. */
const LIMIT = 2 ** 32 - 131072;
/** Of computed stages kept for later; a large picture may hold more while it is worked on. */
const BUDGET = 1.2e9;

export interface Host {
  threads: number;
  /** Whether helpers may do what nobody waits for. */
  mayIdle(on: boolean): void;
  answer(m: RequestMessage): Promise<{ reply: ReplyMessage; transfer: Transferable[] }>;
}

export async function createHost(init: InitMessage, startHelper: (h: HelperInit) => Promise<void>): Promise<Host> {
  const newest = init.newest ? new Int32Array(init.newest) : null;
  const pulse = new Pulse(newest);
  try {
    await startTwins(init.wasm);
  } catch {
    // Without WebAssembly SIMD the definition runs; the kernels say so below.
  }
  let ev: Evaluator | null = null;
  if (init.wasmShared && newest) {
    try {
      const memory = new WebAssembly.Memory({ initial: 64, maximum: 65536, shared: true });
      const control = new SharedArrayBuffer(controlBytes);
      const kernels = await wasmKernels(init.wasmShared, memory);
      const threads = init.helpers + 1;
      await Promise.all(
        Array.from({ length: init.helpers }, (_, i) =>
          startHelper({ memory, wasm: init.wasmShared!, plain: init.wasm, control, thread: i + 1 }),
        ),
      );
      const arena = new Arena(memory, LIMIT);
      const pool = new SharedPool({ memory, kernels }, arena, control, threads, pulse);
      ev = new Evaluator(arena, pool, BUDGET, pulse.check, pulse.quiet);
    } catch (e) {
      console.warn('Shared memory cannot be used, the engine runs on one thread:', e);
    }
  }
  if (!ev) {
    const memory = new WebAssembly.Memory({ initial: 64, maximum: 65536 });
    let kernels: Kernels;
    try {
      kernels = await wasmKernels(init.wasm, memory);
    } catch (e) {
      console.warn('WebAssembly SIMD cannot be used, the slower kernels run:', e);
      kernels = tsKernels(memory);
    }
    const arena = new Arena(memory, LIMIT);
    ev = new Evaluator(arena, new SoloPool({ memory, kernels }, arena), BUDGET, pulse.check, pulse.quiet);
  }
  const s = new Session(ev, pulse.quiet);

  const handle = async (m: RequestMessage): Promise<{ body: unknown; transfer?: Transferable[] }> => {
    switch (m.name) {
      case 'open':
        return { body: s.open(m.body.media, m.body.picture, m.body.frame, m.body.frames) };
      case 'table':
        s.putTable(m.body.id, m.body.cube);
        return { body: true };
      case 'has':
        return { body: s.has(m.body) };
      case 'card':
      case 'render': {
        const r = await s.render(m.body, 'into' in m.body ? m.body.into : undefined);
        return { body: r, transfer: [r.rgba.buffer, ...buffersOf(r.scopes)] };
      }
      case 'scopes': {
        const r = await s.scopes(m.body);
        return { body: r, transfer: buffersOf(r) };
      }
      case 'pick':
      case 'colourAt':
        return { body: await s.pick(m.body.shot, m.body.x, m.body.y) };
      case 'distributions':
        return { body: await s.distributions(m.body.shot, m.body.correction, m.body) };
      case 'held':
        return { body: await s.heldColours(m.body.shot, m.body.correction) };
      case 'separates':
        return { body: await s.separates(m.body.shot, m.body.correction, m.body.term) };
      case 'keyIn':
        return { body: await s.keyIn(m.body) };
      case 'keyLight':
        return { body: await s.keyLight(m.body) };
      case 'strokeFit':
        return { body: await s.strokeFit(m.body) };
      case 'health':
        return { body: await s.health(m.body.shot, m.body.correction, m.body.untidied) };
      case 'fitKey':
        return { body: await s.fitKey(m.body.shot, m.body.correction, m.body.area, m.body) };
      case 'moment':
        return { body: await s.moment(m.body) };
      case 'glimpse':
        return { body: await s.glimpse(m.body) };
      case 'about':
        return { body: await s.about(m.body) };
      case 'follow':
        return { body: await s.follow(m.body) };
      case 'holdRegion':
        return { body: await s.holdRegion(m.body) };
      case 'skinPress':
        return { body: await s.skinPress(m.body) };
      case 'usedPixels':
        return { body: await s.usedPixels(m.body) };
      case 'regionReads':
        return { body: await s.regionReads(m.body) };
      case 'reaches':
        return { body: await s.reaches(m.body) };
      case 'solve':
      case 'frameSolve':
        return { body: await s.solve(m.body) };
      case 'chart':
        return { body: await s.chart(m.body.shot, m.body.chart) };
      case 'helper':
        return { body: await s.helper(m.body) };
      case 'levelsGiven':
        return { body: await s.levelsGiven(m.body) };
      case 'evenness':
        return { body: await s.evenness(m.body) };
      case 'beyond':
        return { body: await s.beyond(m.body) };
      case 'recolour':
      case 'recoloured':
        return { body: await s.recolour(m.body) };
      case 'limits':
        return { body: await s.limits(m.body.shot, m.body.limits) };
      case 'sides':
        return { body: await s.sides(m.body.shot, m.body.correction) };
      case 'figures':
      case 'frameFigures':
        return { body: await s.figures(m.body.shot, m.body.correction) };
      case 'pictureCodes': {
        const codes = await s.pictureCodes(m.body.shot, m.body.bits, m.body.dither);
        return { body: codes, transfer: [codes.data.buffer, ...(codes.reached ? [codes.reached.buffer] : [])] };
      }
      case 'matteCodes': {
        const codes = await s.matteCodes(m.body.shot, m.body.correction, m.body.bits);
        return { body: codes, transfer: [codes.data.buffer] };
      }
      case 'halves': {
        const halves = await s.halves(m.body.shot, m.body.correction);
        return { body: halves, transfer: [halves.data.buffer] };
      }
      case 'lut':
        return { body: await s.lut(m.body.shot, m.body.size, m.body.title) };
      case 'matteThumbs':
        return { body: await s.matteThumbs(m.body.shot, m.body.width) };
    }
  };

  const one = async (m: RequestMessage): Promise<{ reply: ReplyMessage; transfer: Transferable[] }> => {
    pulse.current = m.abortable ? m.id : 0;
    try {
      pulse.check();
      const { body, transfer = [] } = await handle(m);
      return { reply: { id: m.id, ok: true, body }, transfer };
    } catch (e) {
      return { reply: { id: m.id, ok: false, error: toError(e) }, transfer: [] };
    } finally {
      pulse.quiet(0);
    }
  };
  // Every request runs to its end before the next: one memory, and stages that are in use must stay.
  let last: Promise<unknown> = Promise.resolve();
  return {
    threads: ev.pool.threads,
    mayIdle: (on) => {
      if (ev.pool instanceof SharedPool) ev.pool.mayIdle(on);
    },
    answer: (m) => {
      const next = last.then(() => one(m));
      last = next;
      return next;
    },
  };
}

const buffersOf = (list: ScopeReply[] | null): ArrayBuffer[] =>
  (list ?? []).flatMap((x) => x.planes.map((p) => p.counts.buffer));

function toError(e: unknown): ErrorReply {
  const message = (e as Error).message;
  if (e instanceof Stale) return { code: 'stale', message: 'Newer work was asked for' };
  if (e instanceof MissingPicture) return { code: 'missing-picture', message, missing: e.ref };
  if (e instanceof RunEnded) return { code: 'ended', message, remedy: 'Start it again.' };
  if (e instanceof MissingTable) return { code: 'missing-table', message };
  if (e instanceof OutOfMemory)
    return { code: 'memory', message, remedy: 'Use a smaller picture or fewer corrections.' };
  if (e instanceof CannotBring || e instanceof RangeError) return { code: 'cannot', message };
  console.error(e);
  // The machine's own words help nobody: they stand in the console.
  return {
    code: 'failed',
    message: 'The engine could not do this',
    remedy: 'Undo the last change and try it again; the console of the browser says more.',
  };
}
