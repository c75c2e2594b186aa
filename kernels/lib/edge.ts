import { hermite } from './math';

/** Twin of `edgeAt` in src/core/op/edge.ts: the matte at a signed distance from an outline, negative inside. */
// @ts-ignore: decorator
@inline export function fall(d: v128, invIn: v128, invOut: v128): v128 {
  const inv = v128.bitselect(invIn, invOut, f32x4.lt(d, f32x4.splat(0)));
  return hermite(f32x4.sub(f32x4.splat(0.5), f32x4.mul(d, inv)));
}
