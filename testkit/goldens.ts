/** Fingerprints of what a project computes, bit for bit: every picture and every matte of every shot. */
import { createHash } from 'node:crypto';
import { rng } from '../src/core/math/rng';
import { shotState } from '../src/app/actions';
import { compile } from '../src/core/graph/plan';
import { shotsOf } from '../src/document/records';
import type { Records } from '../src/document/records';
import { soloSession } from '../src/engine/node';
import type { Plane } from '../src/engine/memory';
import type { Planes } from '../src/engine/pictures';
import { wasmBytes } from './bench';

/** A picture of 173 by 97 with every hue, noise, and values beyond 0..1. */
export function goldenPlanes(): [Float32Array, Float32Array, Float32Array] {
  const r = rng(97);
  const [w, h] = [173, 97];
  const of = (f: (x: number, y: number) => number): Float32Array =>
    Float32Array.from({ length: w * h }, (_, i) => f((i % w) / w, Math.floor(i / w) / h) + 0.08 * (r() - 0.5));
  return [
    of((x, y) => 0.55 + 0.5 * Math.sin(7 * x + 2 * y)),
    of((x, y) => 0.5 + 0.45 * Math.cos(5 * y - 3 * x)),
    of((x, y) => 0.45 + 0.5 * Math.sin(9 * y * x + 1)),
  ];
}

/** SHA-256 of the float32 bits of the picture and of each correction's matte, by shot; numbers that are none as one. */
export async function fingerprints(
  records: Records,
  planes: (shot: string) => { w: number; h: number; rgb: readonly Float32Array[] },
): Promise<Record<string, string>> {
  const session = await soloSession({ wasm: wasmBytes() });
  const { ev } = session;
  const out: Record<string, string> = {};
  for (const shot of shotsOf(records)) {
    const { w, h, rgb } = planes(shot.id);
    ev.begin();
    const source = await ev.load(`golden:${shot.media}`, w, h, (...to) => to.forEach((p, c) => p.set(rgb[c]!)));
    const state = shotState(records, shot);
    const hash = createHash('sha256');
    const add = (at: Plane): void =>
      ev.arena.look((v) => {
        const p = Float32Array.from(v.f32(at, w * h));
        hash.update(new Uint8Array(p.map((x) => (Number.isNaN(x) ? NaN : x)).buffer));
      });
    for (const c of state.corrections) {
      const res = await ev.run(source, compile(state.corrections, state.frame, 1, state), { focus: c.id });
      const m = res.steps.get(c.id)!.matte;
      if (m) add(m.at);
    }
    const { out: p } = (await ev.run(source, compile(state.corrections, state.frame, 1, state))) as { out: Planes };
    [p.r, p.g, p.b].forEach(add);
    out[shot.id] = hash.digest('hex').slice(0, 24);
  }
  return out;
}
