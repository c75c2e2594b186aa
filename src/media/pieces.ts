/** A file piece by piece through one buffer: a gigabyte that passes leaves nothing for the collector. */
const SIZE = 2 * 2 ** 20;

/** Each piece is looked at before the next is asked for: its memory is used again. */
export async function* pieces(file: Blob): AsyncGenerator<Uint8Array<ArrayBuffer>, void, void> {
  const reader = byob(file);
  if (!reader) {
    for (let at = 0; at < file.size; at += SIZE) yield new Uint8Array(await file.slice(at, at + SIZE).arrayBuffer());
    return;
  }
  let buffer = new ArrayBuffer(SIZE);
  try {
    for (;;) {
      const { done, value } = await reader.read(new Uint8Array(buffer));
      if (done || !value) return;
      yield value;
      buffer = value.buffer;
    }
  } finally {
    // Left in the middle, the rest of the file is not read.
    await reader.cancel().catch(() => {});
    reader.releaseLock();
  }
}
/** Null where this browser does not read a file into memory that it is given. */
function byob(file: Blob): ReadableStreamBYOBReader | null {
  try {
    return file.stream().getReader({ mode: 'byob' });
  } catch {
    return null;
  }
}
