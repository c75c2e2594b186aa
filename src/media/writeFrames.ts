/** Frames to a file: numbered pictures in an archive, or a clip by WebCodecs. */
import { Zip, ZipPassThrough } from 'fflate';
import {
  EncodedAudioPacketSource,
  Mp4OutputFormat,
  Output,
  Quality,
  StreamTarget,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
} from 'mediabunny';
import type { AudioCodec } from 'mediabunny';
import { toYuv420 } from '../core/color/yuv';
import type { WriteFormat } from '../protocol/messages';
import { isSquare } from './aspect';
import { encodeFrame } from './encode';
import { MediaError } from './picture';
import type { Along, Aspect, Codes, Halves, SoundCopied, SoundPart } from './picture';
import { endOfSound, holds, Sound, writeSound } from './sound';

/** Room of an archive's numbers: 32 bits. */
const ZIP_MOST = 2 ** 32 - 2 ** 20;

export interface Writer {
  frame(codes: Codes | Halves, name: string): Promise<void>;
  /** What was copied of the sound; null where there is none in this file. */
  end(): Promise<SoundCopied | null>;
}
/** Puts bytes at a place of the file. */
export type Put = (data: Uint8Array, at: number) => void;

function archive(
  format: Extract<WriteFormat, { kind: 'png' | 'tiff' | 'exr' }>,
  put: Put,
  along: Along | null,
  aspect: Aspect,
): Writer {
  let fault: Error | null = null;
  let bytes = 0;
  const zip = new Zip((e, data) => {
    if (e) fault = e;
    else {
      put(data, bytes);
      bytes += data.byteLength;
    }
  });
  const add = (name: string, data: Uint8Array): void => {
    if (bytes + data.byteLength > ZIP_MOST)
      throw new MediaError('too-large', 'the archive would pass 4 GB', 'Render a shorter range, piece by piece.');
    const entry = new ZipPassThrough(name);
    // One date for all: the same frames give the same file.
    entry.mtime = new Date(1980, 0, 1);
    zip.add(entry);
    entry.push(data, true);
    if (fault) throw fault;
  };
  return {
    frame(codes, name) {
      add(name, encodeFrame(format.kind, codes, aspect));
      return Promise.resolve();
    },
    async end() {
      const sound = along && (await soundBytes(along));
      if (sound && sound.packets > 0) add(`${along.name}.${sound.end}`, sound.data);
      zip.end();
      if (fault) throw fault;
      return sound && { packets: sound.packets, late: sound.late };
    },
  };
}

/** A part of a clip's sound as a whole file in memory. */
async function soundBytes(part: SoundPart): Promise<(SoundCopied & { data: Uint8Array; end: string }) | null> {
  const sound = await Sound.open(part.file);
  if (!sound) return null;
  sound.close();
  let data = new Uint8Array(2 ** 16);
  let length = 0;
  const copied = await writeSound(part, (d, at) => {
    length = Math.max(length, at + d.byteLength);
    if (length > data.byteLength) {
      const more = new Uint8Array(2 * length);
      more.set(data);
      data = more;
    }
    data.set(d, at);
  });
  return copied && { ...copied, data: data.subarray(0, length), end: endOfSound(sound.info.codec) };
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
/** VP9 of profile 2, ten bits, by its level for 1080p at 60 (the container's mapping of VP9, libwebm). */
const VP9_10 = 'vp09.02.41.10';
async function clip(
  format: Exclude<WriteFormat, { bits: unknown }>,
  rate: readonly [number, number],
  put: Put,
  along: Along | null,
  aspect: Aspect,
): Promise<Writer> {
  const sound = along && (await Sound.open(along.file));
  const output = new Output({
    format: format.kind === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat(),
    target: new StreamTarget(
      new WritableStream({
        write: ({ data, position }: { data: Uint8Array; position: number }) => put(data, position),
      }),
    ),
  });
  const ten = format.kind === 'webm' && format.depth === 10;
  const source = new VideoSampleSource({
    codec: format.codec,
    quality: new Quality(
      format.kind === 'webm' ? { quantizer: format.quantizer } : { bitrate: Math.round(1e6 * format.megabits) },
    ),
    keyFrameInterval: 1,
    hardwareAcceleration: 'prefer-software',
    ...(ten ? { fullCodecString: VP9_10 } : {}),
  });
  output.addVideoTrack(source, { frameRate: rate[0] / rate[1] });
  const held =
    sound && holds(format.kind, sound.info.codec) ? new EncodedAudioPacketSource(sound.info.codec as AudioCodec) : null;
  if (held) output.addAudioTrack(held);
  await output.start();
  const packets = held && along ? sound!.copy(along.from, along.to, held) : null;
  let coming = await packets?.next();
  /** Packets that begin before a moment of the clip: sound lies beside its pictures in the file. */
  const until = async (seconds: number): Promise<void> => {
    while (packets && coming && !coming.done && coming.value < seconds) coming = await packets.next();
  };
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
        ten ? 10 : 8,
      );
      const planes = [y, u, v].map((p) => new Uint8Array(p.buffer, p.byteOffset, p.byteLength));
      const data = new Uint8Array(planes.reduce((a, p) => a + p.length, 0));
      let at = 0;
      for (const p of planes) {
        data.set(p, at);
        at += p.length;
      }
      const sample = new VideoSample(data, {
        format: ten ? 'I420P10' : 'I420',
        codedWidth: w,
        codedHeight: h,
        // Their product with the fraction, so that the file says the very fraction.
        ...(isSquare(aspect) ? {} : { displayWidth: w * aspect[0], displayHeight: h * aspect[1] }),
        timestamp: (n * rate[1]) / rate[0],
        duration: rate[1] / rate[0],
        colorSpace: { primaries: 'bt709', transfer: format.curve, matrix: 'bt709', fullRange: false },
      });
      n++;
      await source.add(sample);
      sample.close();
      await until((n * rate[1]) / rate[0]);
    },
    async end() {
      await until(Infinity);
      await output.finalize();
      sound?.close();
      return coming?.done ? coming.value : null;
    },
  };
}

/**
 * `put` is given every byte of the file, the head of a clip last. Sound that a clip cannot hold is left out: it is a
 * file of its own.
 */
export const writerOf = (
  format: WriteFormat,
  rate: readonly [number, number],
  put: Put,
  along: Along | null = null,
  aspect: Aspect = [1, 1],
): Writer | Promise<Writer> =>
  'bits' in format ? archive(format, put, along, aspect) : clip(format, rate, put, along, aspect);
