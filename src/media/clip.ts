/**
 * Clips: MP4 and WebM, frame by frame, exact. What a clip is (tags, frames, rate) is read anywhere; its frames are
 * decoded where there is WebCodecs.
 */
import { EncodedPacketSink, BlobSource, Input, MATROSKA, MP4, QTFF, VideoSampleSink, WEBM } from 'mediabunny';
import type { EncodedPacket, InputVideoTrack, VideoSample } from 'mediabunny';
import { encodings } from '../core/color/encodings';
import { matrixTitles, turnYuv } from '../core/color/yuv';
import type { MatrixId, YuvMeaning, YuvPlanes } from '../core/color/yuv';
import { beforeRounding } from './aspect';
import { bitstreamFacts } from './bitstream';
import type { BitstreamFacts } from './bitstream';
import { fromCicp } from './cicp';
import { mp4Facts, webmFacts } from './container';
import type { ContainerFacts } from './container';
import { checkSize, damaged, MediaError } from './picture';
import type { ClipFormat, ClipInfo, DecodedPicture } from './picture';

/** Matrix of an H.273 code point; null where the file does not say. Throws a MediaError for what is not read. */
export function matrixOf(code: number | null): MatrixId | null {
  const known: Readonly<Record<number, MatrixId>> = {
    0: 'rgb',
    1: 'bt709',
    5: 'bt601',
    6: 'bt601',
    7: 'smpte240',
    9: 'bt2020',
  };
  if (code === null || code === 2) return null;
  const m = known[code];
  if (m) return m;
  throw new MediaError(
    'unsupported',
    `its colour matrix is of the kind ${code} (ITU-T H.273), which is not read`,
    'Convert it to BT.709 or BT.2020 (not constant luminance) and import it again.',
  );
}

const CODECS: Readonly<Record<string, string>> = {
  avc: 'H.264',
  hevc: 'H.265',
  vp8: 'VP8',
  vp9: 'VP9',
  av1: 'AV1',
  prores: 'ProRes',
};
const RATES: readonly (readonly [number, number])[] = [
  [24, 1],
  [25, 1],
  [30, 1],
  [24000, 1001],
  [30000, 1001],
  [48, 1],
  [50, 1],
  [60, 1],
  [60000, 1001],
  [12, 1],
  [15, 1],
  [100, 1],
  [120, 1],
];
/**
 * Frames a second by times that were rounded (WebM: to a thousandth of a second): a usual rate where the whole length
 * allows it, else thousandths. Variable where single frames stand off by more than rounding.
 */
export function rateOfTimes(times: ArrayLike<number>): { rate: readonly [number, number]; variable: boolean } {
  const n = times.length - 1;
  if (n < 1) return { rate: [24, 1], variable: false };
  const span = times[n]! - times[0]!;
  if (!(span > 0)) return { rate: [24, 1], variable: true };
  const fps = n / span;
  // Times of whole thousandths were rounded: both ends may be off by half of one.
  const rounded = Array.from(times).every((t) => Math.abs(1000 * t - Math.round(1000 * t)) < 1e-4);
  const off = rounded ? fps * (0.0011 / span) : 0;
  const near = RATES.filter(([a, b]) => Math.abs(a / b - fps) <= Math.max(off, fps * 1e-5));
  const rate = near.sort(([a, b], [c, d]) => Math.abs(a / b - fps) - Math.abs(c / d - fps))[0] ?? [
    Math.max(1, Math.round(fps * 1000)),
    1000,
  ];
  // Of two usual ones that both fit, the whole one.
  const whole = near.find(([, b]) => b === 1);
  const step = rate[1] / rate[0];
  let variable = false;
  for (let i = 1; i <= n; i++)
    if (Math.abs(times[i]! - times[0]! - i * step) > Math.max(0.0016, 0.05 * step)) variable = true;
  return { rate: whole && near.length > 1 ? whole : rate, variable };
}

const again = 'Copy or export it again.';
const convert = 'Convert it to VP9, AV1 or H.264 in an MP4 or WebM file and import that.';

/** How many bits and what layout a decoder's format has. Throws a MediaError for what is not read. */
export function layoutOf(format: string | null): Pick<YuvPlanes, 'bits' | 'subX' | 'subY'> & { interleaved: boolean } {
  const m = /^I(420|422|444)A?(?:P(10|12))?$/.exec(format ?? '');
  if (format === 'NV12') return { bits: 8, subX: 2, subY: 2, interleaved: true };
  if (!m)
    throw new MediaError(
      'unsupported',
      format === null
        ? 'the browser does not say in what form its decoder gives the frames'
        : `its frames come as ${format}, which is not read`,
      convert,
    );
  return {
    bits: m[2] ? (Number(m[2]) as 10 | 12) : 8,
    subX: m[1] === '444' ? 1 : 2,
    subY: m[1] === '420' ? 2 : 1,
    interleaved: false,
  };
}

async function planesOf(s: VideoSample): Promise<YuvPlanes> {
  const { bits, subX, subY, interleaved } = layoutOf(s.format);
  const { width: w, height: h } = s.visibleRect;
  const bytes = bits === 8 ? 1 : 2;
  const [cw, ch] = [Math.ceil(w / subX), Math.ceil(h / subY)];
  const all = new ArrayBuffer(s.allocationSize());
  const layout = await s.copyTo(all);
  /** One plane without padding between its rows. */
  const plane = (i: number, pw: number, ph: number): YuvPlanes['y'] => {
    const { offset, stride } = layout[i]!;
    const out = new Uint8Array(pw * ph * bytes);
    for (let y = 0; y < ph; y++) out.set(new Uint8Array(all, offset + y * stride, pw * bytes), y * pw * bytes);
    return bytes === 1 ? out : new Uint16Array(out.buffer);
  };
  const y = plane(0, w, h);
  if (!interleaved) return { y, u: plane(1, cw, ch), v: plane(2, cw, ch), bits, subX, subY };
  const uv = plane(1, 2 * cw, ch);
  const [u, v] = [new Uint8Array(cw * ch), new Uint8Array(cw * ch)];
  for (let i = 0; i < u.length; i++) {
    u[i] = uv[2 * i]!;
    v[i] = uv[2 * i + 1]!;
  }
  return { y, u, v, bits, subX, subY };
}

/**
 * Frames without the transparency that a WebM may hold beside them: it is left out (said in the notes), and joining it
 * would take a thread that pages of this kind do not allow. The name that is overridden is not part of the package's
 * promise: a clip with transparency is among the tests.
 */
class ColourSink extends VideoSampleSink {
  constructor(
    private readonly from: InputVideoTrack,
    options: ConstructorParameters<typeof VideoSampleSink>[1],
  ) {
    super(from, options);
  }
  _createPacketSink(): EncodedPacketSink {
    const sink = new EncodedPacketSink(this.from);
    for (const name of ['getFirstPacket', 'getPacket', 'getNextPacket', 'getKeyPacket', 'getNextKeyPacket'] as const) {
      const get = sink[name].bind(sink) as (...a: unknown[]) => Promise<EncodedPacket | null>;
      sink[name] = async (...a: unknown[]) => {
        const packet = await get(...a);
        // The packet itself: its demuxer knows it again by what it is.
        delete packet?.sideData.alpha;
        return packet;
      };
    }
    return sink;
  }
}

export class Clip {
  /** Frames in order of presentation, from one on. */
  private running: { next: number; frames: AsyncGenerator<VideoSample, void, unknown> } | null = null;
  private chain: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly input: Input,
    private readonly sink: VideoSampleSink,
    private readonly times: Float64Array,
    /** Quarter turns clockwise that the file asks for. */
    readonly quarters: number,
    readonly info: ClipInfo,
  ) {}

  /**
   * Reads what a clip is. `decodes`: also makes sure that its frames can be decoded here. Throws a MediaError.
   *
   * @param counted hears how many frames were found so far
   */
  static async open(file: Blob, decodes = true, counted: (n: number) => void = () => {}): Promise<Clip> {
    const input = new Input({ formats: [MP4, QTFF, WEBM, MATROSKA], source: new BlobSource(file) });
    try {
      return await Clip.read(file, input, decodes, counted);
    } catch (e) {
      input.dispose();
      throw e instanceof MediaError ? e : damaged('clip', e);
    }
  }
  private static async read(file: Blob, input: Input, decodes: boolean, counted: (n: number) => void): Promise<Clip> {
    if (!(await input.canRead()))
      throw new MediaError('unknown', 'it is not an MP4 or WebM clip, or its beginning is damaged', again);
    const isMp4 = [MP4, QTFF].includes((await input.getFormat()) as typeof MP4);
    const track = await input.getPrimaryVideoTrack();
    if (!track)
      throw new MediaError(
        'unsupported',
        (await input.getAudioTracks()).length > 0 ? 'it holds sound and no picture' : 'it holds no picture',
        'Choose a clip with a picture.',
      );
    const codec = await track.getCodec();
    const title = CODECS[codec ?? ''] ?? codec ?? 'a codec nobody knows here';
    if (codec === null || (decodes && !(await track.canDecode())))
      throw new MediaError('unsupported', `it is coded as ${title}, which this browser does not decode`, convert);
    const facts = isMp4 ? await mp4Facts(file) : await webmFacts(file);
    if (facts.edits > 1)
      throw new MediaError(
        'unsupported',
        `it is put together from ${facts.edits} pieces by an edit list inside the file`,
        'Export it as one piece and import that.',
      );
    const stream = await streamFacts(track, codec);
    if (facts.interlaced || stream.interlaced)
      throw new MediaError(
        'unsupported',
        'it is interlaced: each frame holds two moments',
        'Make it progressive first, and import that.',
      );
    const times = await presentationTimes(track, counted);
    if (times.length === 0) throw new MediaError('empty', 'it holds no frame', 'Export it again from where it came.');
    return new Clip(
      input,
      new ColourSink(track, { hardwareAcceleration: 'prefer-software' }),
      times,
      ((await track.getRotation()) / 90) % 4,
      await infoOf(input, track, facts, stream, times, isMp4 ? 'mp4' : 'webm', title),
    );
  }

  /** Frame n, exactly; beyond the ends the nearest there is. One at a time. */
  frame(n: number, meaning: YuvMeaning = this.info.meaning): Promise<DecodedPicture> {
    const run = this.chain.then(() => this.one(n, meaning));
    this.chain = run.catch(() => {});
    return run;
  }
  private async one(n: number, meaning: YuvMeaning): Promise<DecodedPicture> {
    const at = Math.max(0, Math.min(this.times.length - 1, Math.round(n)));
    const sample = await this.sample(at);
    try {
      const { width, height } = sample.visibleRect;
      const planes = await planesOf(sample);
      const turned = turnYuv(planes, width, height, this.quarters);
      const { info } = this;
      if (turned.w !== info.width || turned.h !== info.height)
        throw new MediaError(
          'unsupported',
          `frame ${at} has ${turned.w} x ${turned.h} pixels, the clip ${info.width} x ${info.height}: its size changes`,
          'Cut it where it changes and import the pieces.',
        );
      return {
        width: turned.w,
        height: turned.h,
        bits: planes.bits,
        format: info.format,
        rgb: new Uint8Array(0),
        yuv: { planes: turned.planes, meaning },
        notes: [],
        encoding: info.encoding,
        alpha: false,
      };
    } finally {
      sample.close();
    }
  }
  /** What lies a little ahead is reached by going on, anything else by a seek. */
  private async sample(at: number): Promise<VideoSample> {
    const AHEAD = 24;
    let r = this.running;
    if (!r || at < r.next || at > r.next + AHEAD) {
      await r?.frames.return();
      r = this.running = { next: at, frames: this.sink.samples(this.times[at]! - 1e-6) };
    }
    const half = this.times.length > 1 ? (this.times.at(-1)! - this.times[0]!) / (this.times.length - 1) / 2 : 0.01;
    for (;;) {
      const { value, done } = await r.frames.next();
      if (done || !value) {
        this.running = null;
        throw new MediaError(
          'truncated',
          `frame ${at} is not in the file any more: it is cut off or damaged there`,
          'Copy or export it again; the frames before it can be used.',
        );
      }
      // A decoder begins with the frame that is shown at that moment, which may be the one before.
      if (value.timestamp >= this.times[at]! - Math.min(half, 0.0005)) {
        r.next = at + 1;
        return value;
      }
      value.close();
    }
  }
  /** When what was asked for is done. */
  close(): void {
    this.chain = this.chain.then(async () => {
      await this.running?.frames.return();
      this.input.dispose();
    });
    this.chain.catch(() => {});
  }
}

/** When each frame is shown, in seconds; what an edit list leaves out before the start is not counted. */
async function presentationTimes(track: InputVideoTrack, counted: (n: number) => void): Promise<Float64Array> {
  const list: number[] = [];
  for await (const p of new EncodedPacketSink(track).packets(undefined, undefined, { metadataOnly: true })) {
    if (p.timestamp > -0.0005) list.push(p.timestamp);
    if (list.length % 500 === 0) counted(list.length);
  }
  return Float64Array.from(list).sort();
}

async function streamFacts(track: InputVideoTrack, codec: string): Promise<BitstreamFacts> {
  const held = (await track.getDecoderConfig())?.description;
  const description = held
    ? ArrayBuffer.isView(held)
      ? new Uint8Array(held.buffer, held.byteOffset, held.byteLength)
      : new Uint8Array(held)
    : null;
  const first = await new EncodedPacketSink(track).getFirstPacket();
  return bitstreamFacts(codec, description, first?.data ?? new Uint8Array(0));
}

async function infoOf(
  input: Input,
  track: InputVideoTrack,
  facts: ContainerFacts,
  stream: BitstreamFacts,
  times: Float64Array,
  format: ClipFormat,
  codec: string,
): Promise<ClipInfo> {
  const [codedW, codedH] = [await track.getCodedWidth(), await track.getCodedHeight()];
  const turned = (await track.getRotation()) % 180 !== 0;
  const [width, height] = turned ? [codedH, codedW] : [codedW, codedH];
  checkSize(width, height);
  const guessed: ClipInfo['guessed'] = [];
  const notes: string[] = [];
  /** The container first, then the bitstream; 2 says that nothing is said. */
  const point = (what: 'primaries' | 'transfer' | 'matrix'): number | null =>
    (facts[what] === 2 ? null : facts[what]) ?? stream[what];
  // Standard definition, as common practice has it.
  const small = Math.min(width, height) <= 576 && Math.max(width, height) <= 768;
  const saidMatrix = matrixOf(point('matrix'));
  const matrix = saidMatrix ?? (small ? 'bt601' : 'bt709');
  if (!saidMatrix) guessed.push('matrix');
  const full = facts.full ?? stream.full ?? false;
  if (facts.full === null && stream.full === null) guessed.push('range');
  const siting = facts.siting ?? stream.siting ?? 'left';
  if (!facts.siting && !stream.siting && stream.halved) guessed.push('siting');
  const [p, t] = [point('primaries'), point('transfer')];
  if (p === null) guessed.push('primaries');
  if (t === null) guessed.push('transfer');
  const meaning = fromCicp(p ?? 1, t ?? 1);
  if (meaning.convert)
    notes.push(
      `its primaries and curve (${meaning.convert.what}) are taken as ${encodings[meaning.encoding].title}, ` +
        'without converting them',
    );
  const taken: Record<ClipInfo['guessed'][number], string> = {
    matrix: `its colour matrix (taken as ${matrixTitles[matrix]})`,
    range: `its range (taken as ${full ? 'full' : 'narrow'})`,
    siting: 'where its chroma lies (taken as beside the left)',
    primaries: 'its primaries (taken as BT.709)',
    transfer: 'its curve (taken as BT.709)',
  };
  const apart = (
    [
      ['matrix', 'colour matrix'],
      ['primaries', 'primaries'],
      ['transfer', 'curve'],
      ['full', 'range'],
      ['siting', 'place of chroma'],
    ] as const
  ).filter(([k]) => facts[k] !== null && facts[k] !== 2 && stream[k] !== null && facts[k] !== stream[k]);
  if (apart.length > 0)
    notes.push(
      `its container and its pictures say different things of its ${apart.map(([, title]) => title).join(', ')}: ` +
        'the container is believed',
    );
  if (guessed.length > 0)
    notes.push(`the file does not say ${guessed.map((g) => taken[g]).join(', ')}; the conversion has the choices`);
  const { rate, variable } = rateOfTimes(times);
  if (variable) notes.push('its frames last unequally long: they are shown one after another at the mean rate');
  if (await track.getFlip()) notes.push('the file asks for it to be mirrored, which is left out');
  if (await track.canBeTransparent()) notes.push('its transparency is left out');
  const told = await track.getPixelAspectRatio();
  // Told by the width of the shown picture in whole pixels, of MP4 as well.
  const [num, den] = beforeRounding([told.num, told.den], codedW);
  const aspect = { num, den };
  if (aspect.num !== aspect.den)
    notes.push(`its pixels are ${aspect.num}:${aspect.den} wide and are shown so: nothing of it is resampled`);
  const config = await track.getDecoderConfig();
  const sounds = await input.getAudioTracks();
  const audio = sounds[0];
  if (sounds.length > 1) notes.push(`of its ${sounds.length} tracks of sound the first is played and goes out`);
  if (variable && audio) notes.push('its sound keeps its own time, and may be early or late against the pictures');
  return {
    format,
    codec,
    width,
    height,
    bits: bitsOf(config?.codec ?? ''),
    frames: times.length,
    rate,
    pixelAspect: turned ? [aspect.den, aspect.num] : [aspect.num, aspect.den],
    timecode: facts.timecode ?? { start: 0, drop: false },
    encoding: meaning.encoding,
    meaning: { matrix, full, siting },
    guessed,
    audio: audio ? { codec: (await audio.getCodec()) ?? 'unknown' } : null,
    notes,
  };
}

/** Of a codec string of WebCodecs: VP9 and AV1 name it, H.264 by its profile (High 10: 110, 4:2:2 10 bit: 122). */
export function bitsOf(codec: string): 8 | 10 | 12 {
  const [kind, ...rest] = codec.split('.');
  if (kind === 'vp09' || kind === 'av01') {
    const n = Number(rest[2]);
    return n === 10 || n === 12 ? n : 8;
  }
  if (kind?.startsWith('avc')) return [0x6e, 0x7a].includes(parseInt((rest[0] ?? '').slice(0, 2), 16)) ? 10 : 8;
  return 8;
}
