/**
 * The thread for files: files to pictures and tables, pictures to files, one at a time. Ending it is how work is
 * cancelled or timed out.
 */
import avifUrl from '@jsquash/avif/codec/dec/avif_dec.wasm?url';
import jpegUrl from '@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm?url';
import lcmsUrl from 'lcms-wasm/dist/lcms.wasm?url';
import webpUrl from '@jsquash/webp/codec/dec/webp_dec.wasm?url';
import { setCodecLoader } from '../media/codecs';
import { decodeStill } from '../media/decode';
import { encodeFrame } from '../media/encode';
import { errorOf } from '../media/errors';
import { buffersOf } from '../media/picture';
import { readTable } from '../media/table';
import type { DecodeReply, DecodeRequest } from '../protocol/messages';

const scope = self as unknown as { postMessage(m: DecodeReply, t?: Transferable[]): void };
const urls = { avif: avifUrl, webp: webpUrl, jpeg: jpegUrl, lcms: lcmsUrl };
setCodecLoader(async (name) => WebAssembly.compile(await (await fetch(urls[name])).arrayBuffer()));

self.onmessage = async ({ data }: MessageEvent<DecodeRequest>) => {
  const { id } = data;
  try {
    if (data.kind === 'encode') {
      const { codes, bytes } = data;
      const file = encodeFrame(
        'png',
        codes.bits === 'half'
          ? { ...codes, data: new Uint16Array(bytes) }
          : { ...codes, data: codes.bits === 16 ? new Uint16Array(bytes) : new Uint8Array(bytes) },
        data.aspect,
      );
      scope.postMessage({ id, ok: true, file }, [file.buffer]);
      return;
    }
    const bytes = new Uint8Array(data.bytes);
    if (data.kind === 'table') {
      const table = readTable(bytes, data.name);
      scope.postMessage({ id, ok: true, table }, [table.cube.data.buffer as ArrayBuffer]);
      return;
    }
    const picture = await decodeStill(bytes, data.options);
    scope.postMessage({ id, ok: true, picture }, buffersOf(picture));
  } catch (e) {
    scope.postMessage({ id, ok: false, error: errorOf(e) });
  }
};
