/** Frames to a file: numbered pictures in an archive, or a clip by WebCodecs. */
import { Zip, ZipPassThrough } from 'fflate';
import {
  Mp4OutputFormat,
  Output,
  Quality,
  StreamTarget,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
} from 'mediabunny';
import { toYuv420 } from '../core/color/yuv';
import type { WriteFormat } from '../protocol/messages';
import { encodeFrame } from './encode';
import { MediaError } from './picture';
import type { Codes, Halves } from './picture';

/** Room of an archive's numbers: 32 bits. */
const ZIP_MOST = 2 ** 32 - 2 ** 20;

export interface Writer {
  frame(codes: Codes | Halves, name: string): Promise<void>;
  end(): Promise<void>;
}
/** Puts bytes at a place of the file. */
export type Put = (data: Uint8Array, at: number) => void;

function archive(format: Extract<WriteFormat, { kind: 'png' | 'tiff' | 'exr' }>, put: Put): Writer {
  let fault: Error | null = null;
  let bytes = 0;
  const zip = new Zip((e, data) => {
    if (e) fault = e;
    else {
      put(data, bytes);
      bytes += data.byteLength;
    }
  });
  return {
    frame(codes, name) {
      const data = encodeFrame(format.kind, codes);
      if (bytes + data.byteLength > ZIP_MOST)
        throw new MediaError('too-large', 'the archive would pass 4 GB', 'Render a shorter range, piece by piece.');
      const entry = new ZipPassThrough(name);
      // One date for all: the same frames give the same file.
      entry.mtime = new Date(1980, 0, 1);
      zip.add(entry);
      entry.push(data, true);
      if (fault) throw fault;
      return Promise.resolve();
    },
    end() {
      zip.end();
      if (fault) throw fault;
      return Promise.resolve();
    },
  };
}

/** RGB of 16 bits, whatever was rendered: a matte is grey. */
function rgb16({ channels, bits, data, width, height }: Codes): Uint16Array {
  if (channels === 3 && bits === 16) return data as Uint16Array;
  const n = width * height;
  const out = new Uint16Array(3 * n);
  const k = bits === 16 ? 1 : 257;
  for (let i = 0; i < n; i++)
    for (let c = 0; c < 3; c++) out[3 * i + c] = data[i * channels + (channels === 1 ? 0 : c)]! * k;
  return out;
}
async function clip(
  format: Exclude<WriteFormat, { bits: unknown }>,
  rate: readonly [number, number],
  put: Put,
): Promise<Writer> {
  const output = new Output({
    format: format.kind === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat(),
    target: new StreamTarget(
      new WritableStream({
        write: ({ data, position }: { data: Uint8Array; position: number }) => put(data, position),
      }),
    ),
  });
  const source = new VideoSampleSource({
    codec: format.codec,
    quality: new Quality(
      format.kind === 'webm' ? { quantizer: format.quantizer } : { bitrate: Math.round(1e6 * format.megabits) },
    ),
    keyFrameInterval: 1,
    hardwareAcceleration: 'prefer-software',
  });
  output.addVideoTrack(source, { frameRate: rate[0] / rate[1] });
  await output.start();
  let n = 0;
  return {
    async frame(codes) {
      if (codes.bits === 'half') throw new RangeError('A clip is made of whole numbers');
      const { width: w, height: h } = codes;
      if ((w | h) & 1)
        throw new MediaError(
          'unsupported',
          `the picture has ${w} x ${h} pixels, and a clip of 4:2:0 needs even numbers`,
          'Render numbered pictures instead.',
        );
      const { y, u, v } = toYuv420(
        rgb16(codes),
        w,
        h,
        'bt709',
        codes.reached ? { where: codes.reached, frame: n } : null,
      );
      const data = new Uint8Array(y.length + u.length + v.length);
      data.set(y);
      data.set(u, y.length);
      data.set(v, y.length + u.length);
      const sample = new VideoSample(data, {
        format: 'I420',
        codedWidth: w,
        codedHeight: h,
        timestamp: (n * rate[1]) / rate[0],
        duration: rate[1] / rate[0],
        colorSpace: { primaries: 'bt709', transfer: format.curve, matrix: 'bt709', fullRange: false },
      });
      n++;
      await source.add(sample);
      sample.close();
    },
    async end() {
      await output.finalize();
    },
  };
}

/** `put` is given every byte of the file, the head of a clip last. */
export const writerOf = (format: WriteFormat, rate: readonly [number, number], put: Put): Writer | Promise<Writer> =>
  'bits' in format ? archive(format, put) : clip(format, rate, put);
