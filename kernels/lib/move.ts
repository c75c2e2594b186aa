/**
 * Copies whole float32 numbers, by vectors. memory.copy is not used: in shared memory browsers do it a word at a
 * time, several
 * times slower. The pieces do not overlap.
 */
export function moveFloats(to: usize, from: usize, bytes: usize): void {
  let i: usize = 0;
  for (const end = bytes & ~63; i < end; i += 64) {
    const a = v128.load(from + i),
      b = v128.load(from + i + 16),
      c = v128.load(from + i + 32),
      d = v128.load(from + i + 48);
    v128.store(to + i, a);
    v128.store(to + i + 16, b);
    v128.store(to + i + 32, c);
    v128.store(to + i + 48, d);
  }
  for (; i < bytes; i += 4) store<u32>(to + i, load<u32>(from + i));
}

export function zeroFloats(at: usize, bytes: usize): void {
  let i: usize = 0;
  for (const end = bytes & ~15; i < end; i += 16) v128.store(at + i, i32x4.splat(0));
  for (; i < bytes; i += 4) store<u32>(at + i, 0);
}
