/** Planes of a frame pass: the table holds four counts, then addresses (src/engine/tasks/areas.ts: FRAME_HEAD). */

// @ts-ignore: decorator
@inline export function plane(table: usize, i: i32): usize {
  return <usize>load<u32>(table + ((<usize>(4 + i)) << 2));
}
