/** A file piece by piece through one buffer: a gigabyte that passes leaves nothing for the collector. */
const SIZE = 2 * 2 ** 20;

/** Each piece is looked at before the next is asked for: its memory is used again. */
export async function* pieces(file: Blob): AsyncGenerator<Uint8Array<ArrayBuffer>, void, void> {
  const reader = file.stream().getReader({ mode: 'byob' });
  let buffer = new ArrayBuffer(SIZE);
  try {
    for (;;) {
      const { done, value } = await reader.read(new Uint8Array(buffer));
      if (done || !value) return;
      yield value;
      buffer = value.buffer;
    }
  } finally {
    reader.releaseLock();
  }
}
