/** What the core does by itself, done by twins in WebAssembly in this thread from now on: to the bit, and faster. */
import { fieldBy } from '../core/matte/geodesic';
import { distanceBy, learnBy } from '../core/matte/likeness';
import { modelBy } from '../core/matte/model';
import { flowBy } from '../core/math/minimumCut';
import { findBy } from '../core/track/lucasKanade';
import { warpBy } from '../core/track/image';
import { wasmFlow } from './flow';
import { wasmFollowing } from './following';
import { wasmGrowing } from './growing';

/** @param bytes of kernels.wasm: of plain memory, in which bytes are copied faster than in a shared one */
export async function startTwins(bytes: BufferSource): Promise<void> {
  const made = await WebAssembly.compile(bytes);
  const [flow, { find, warp }, grown] = await Promise.all([wasmFlow(made), wasmFollowing(made), wasmGrowing(made)]);
  flowBy(flow);
  findBy(find);
  warpBy(warp);
  fieldBy(grown.field);
  distanceBy(grown.distance);
  learnBy(grown.learning);
  modelBy(grown.modelled);
}
