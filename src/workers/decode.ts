/** The decoding thread: files to pictures, one at a time. Ending it is how decoding is cancelled. */
import avifUrl from '@jsquash/avif/codec/dec/avif_dec.wasm?url';
import webpUrl from '@jsquash/webp/codec/dec/webp_dec.wasm?url';
import { decodeStill, MediaError } from '../media/decode';
import { setCodecLoader } from '../media/formats/webp';
import type { DecodeReply, DecodeRequest } from '../protocol/messages';

const scope = self as unknown as { postMessage(m: DecodeReply, t?: Transferable[]): void };
setCodecLoader(async (name) => WebAssembly.compile(await (await fetch(name === 'avif' ? avifUrl : webpUrl)).arrayBuffer()));

self.onmessage = async ({ data }: MessageEvent<DecodeRequest>) => {
  try {
    const picture = await decodeStill(new Uint8Array(data.bytes), data.options);
    scope.postMessage({ id: data.id, ok: true, picture }, [picture.rgb.buffer, ...(picture.alphaPlane ? [picture.alphaPlane.buffer] : [])] as ArrayBuffer[]);
  } catch (e) {
    const message = (e as Error).message;
    scope.postMessage({ id: data.id, ok: false, error: e instanceof MediaError ? { code: 'media', message, remedy: e.remedy } : { code: e instanceof RangeError ? 'memory' : 'failed', message } });
  }
};
