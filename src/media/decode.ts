/**
 * Bytes of a still -> R'G'B' as the file has it, the same code in browser, worker and command line, so that numbers
 * agree.
 */
import { aspectOfRatio, isSquare } from './aspect';
import { toMeaning } from './cicp';
import { knownProfile, readProfile, tablesToSrgb, toSrgb } from './icc';
import { resolveEncoding } from '../core/color/encodings';
import { defaultDecode, MAX_FILE_BYTES, MediaError } from './picture';
import { sniff } from './sniff';
import type { DecodedPicture, DecodeOptions, Raw, Samples, StillFormat } from './picture';

export { MAX_FILE_BYTES, MAX_PIXELS, MAX_SIDE, MediaError } from './picture';
export type { DecodedPicture, DecodeOptions, MediaErrorCode } from './picture';

/** Read when a file of the kind comes: the readers are large. */
const readers: Record<StillFormat, () => Promise<(b: Uint8Array) => Raw | Promise<Raw>>> = {
  png: async () => (await import('./formats/png')).png,
  jpeg: async () => (await import('./formats/jpeg')).jpeg,
  tiff: async () => (await import('./formats/tiff')).tiff,
  exr: async () => (await import('./formats/exr')).exr,
  webp: async () => (await import('./formats/webp')).webp,
  avif: async () => (await import('./formats/avif')).avif,
};
const FORMATS = 'Rowanleaf opens PNG, JPEG, TIFF, EXR, WebP and AVIF pictures, and MP4, MOV, WebM and MKV clips';

type Maker = new (n: number) => Samples;
/** Turned upright by EXIF orientation 1 to 8 (CIPA DC-008, table of tag 0x0112). */
export function upright(
  data: Samples,
  w: number,
  h: number,
  channels: number,
  orientation: number,
): { data: Samples; w: number; h: number } {
  if (!(orientation >= 2 && orientation <= 8)) return { data, w, h };
  const swap = orientation >= 5;
  const [W, H] = swap ? [h, w] : [w, h];
  const out = new (data.constructor as Maker)(data.length);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [sx, sy] = (
        [
          [x, y],
          [W - 1 - x, y],
          [W - 1 - x, H - 1 - y],
          [x, H - 1 - y],
          [y, x],
          [y, W - 1 - x],
          [H - 1 - y, W - 1 - x],
          [H - 1 - y, x],
        ] as const
      )[orientation - 1]!;
      for (let c = 0; c < channels; c++) out[(y * W + x) * channels + c] = data[(sy * w + sx) * channels + c]!;
    }
  return { data: out, w: W, h: H };
}

function cropped(
  data: Samples,
  w: number,
  channels: number,
  c: { x: number; y: number; w: number; h: number },
): Samples {
  const out = new (data.constructor as Maker)(c.w * c.h * channels);
  for (let y = 0; y < c.h; y++) {
    const s = ((c.y + y) * w + c.x) * channels;
    out.set(data.subarray(s, s + c.w * channels), y * c.w * channels);
  }
  return out;
}
/** Codes of a narrow range as signal: 16 to 235 of 8 bits is 0 to 1 (ITU-T H.273, 8.3). */
const widened = (rgb: Samples, bits: number): Float32Array =>
  Float32Array.from(rgb, (v) => (v / 2 ** (bits - 8) - 16) / 219);

async function finish(raw: Raw, o: DecodeOptions): Promise<DecodedPicture> {
  const notes = [...raw.notes];
  let { data, width: w, height: h } = raw;
  if (raw.crop) {
    data = cropped(data, w, raw.channels, raw.crop);
    ({ w, h } = raw.crop);
    notes.push('it is cropped as the file says');
  }
  const before = data;
  for (const turn of raw.turns ?? []) ({ data, w, h } = upright(data, w, h, raw.channels, turn));
  if (data !== before) notes.push('it is turned upright as its orientation says');
  const swapped = (raw.turns ?? []).filter((t) => t >= 5 && t <= 8).length % 2 === 1;
  const ratio = raw.aspect ?? 1;
  const aspect = aspectOfRatio(swapped ? 1 / ratio : ratio);
  if (!aspect) notes.push(`it says that its pixels are ${ratio.toPrecision(3)} times as wide as high: left out`);
  else if (!isSquare(aspect))
    notes.push(`its pixels are ${aspect.join(':')} wide and are shown so: nothing of it is resampled`);
  const n = w * h;
  const { channels } = raw;
  const grey = channels < 3;
  const alpha = channels === 2 || channels === 4;
  const whole = !(data instanceof Float32Array);
  const max = whole ? 2 ** raw.bits - 1 : 1;
  let rgb: Samples = channels === 3 ? data : new (data.constructor as Maker)(3 * n);
  let plane: Samples | undefined;
  if (channels !== 3)
    for (let i = 0; i < n; i++) {
      const s = i * channels;
      rgb[3 * i] = data[s]!;
      rgb[3 * i + 1] = data[grey ? s : s + 1]!;
      rgb[3 * i + 2] = data[grey ? s : s + 2]!;
    }
  if (alpha) {
    plane = new (data.constructor as Maker)(n);
    for (let i = 0; i < n; i++) plane[i] = data[i * channels + channels - 1]!;
  }
  let { encoding, bits } = raw;
  /** From here on the numbers are floating point; alpha goes along. */
  const float = (f: Float32Array): void => {
    rgb = f;
    if (plane && !(plane instanceof Float32Array)) plane = Float32Array.from(plane, (v) => v / max);
    bits = 32;
  };
  if (raw.narrow && !(rgb instanceof Float32Array)) {
    float(widened(rgb, raw.bits));
    notes.push('its numbers of a narrow range (16 to 235) are spread to the full one');
  }
  if (raw.icc) {
    const p = readProfile(raw.icc);
    const known = knownProfile(p);
    const levels = rgb instanceof Float32Array ? 1 : max;
    const done =
      known || p.kind === 'other'
        ? null
        : p.kind === 'tables'
          ? p.channels === 3 || grey
            ? await tablesToSrgb(raw.icc, p.channels, rgb, levels).catch(() => null)
            : null
          : p.kind === 'matrix' || grey
            ? toSrgb(p, rgb, levels)
            : null;
    const why =
      p.kind === 'other'
        ? p.why
        : (p.kind === 'grey' || (p.kind === 'tables' && p.channels === 1)) && !grey
          ? 'it is for grey pictures, and this one has colours'
          : 'its tables cannot be read';
    if (known) encoding = known;
    else if (done) {
      float(done);
      encoding = 'srgb';
      notes.push(
        `its colour profile "${p.name}" is applied: the numbers are sRGB now, as floating point` +
          (p.kind === 'tables' ? '' : ', with nothing cut off'),
      );
    } else {
      if (o.profile === 'refuse')
        throw new MediaError(
          'profile',
          `its colour profile "${p.name}" is not applied: ${why}`,
          'Convert it to sRGB, or choose "take as sRGB" under Options beside Import and bring it in again.',
        );
      notes.push(`its colour profile "${p.name}" is left out (${why}): the numbers are taken as sRGB`);
    }
  } else if (raw.convert && typeof encoding === 'string') {
    float(toMeaning({ encoding, convert: raw.convert }, rgb, rgb instanceof Float32Array ? 1 : max));
    notes.push(
      `its colours (${raw.convert.what}) are brought to ${resolveEncoding(encoding).title}, as floating point, ` +
        'with nothing cut off',
    );
  }
  const scale = rgb instanceof Float32Array ? 1 : max;
  if (plane && o.alpha === 'flatten') {
    if (!raw.premultiplied)
      for (let i = 0; i < n; i++)
        for (let c = 0; c < 3; c++)
          rgb[3 * i + c] =
            rgb instanceof Float32Array
              ? (rgb[3 * i + c]! * plane[i]!) / scale
              : Math.round((rgb[3 * i + c]! * plane[i]!) / scale);
    plane = undefined;
    notes.push('its transparency is laid over black');
  } else if (plane)
    notes.push(
      raw.premultiplied
        ? 'its transparency is kept; colours are multiplied by it, as in the file'
        : 'its transparency is kept',
    );
  return {
    width: w,
    height: h,
    bits,
    format: raw.format,
    rgb,
    notes,
    encoding,
    alpha,
    ...(plane ? { alphaPlane: plane } : {}),
    ...(aspect && !isSquare(aspect) ? { pixelAspect: aspect } : {}),
  };
}

/** Throws a MediaError. */
export async function decodeStill(given: Uint8Array, options: Partial<DecodeOptions> = {}): Promise<DecodedPicture> {
  // A Buffer of Node shares its memory with others, and its slice() copies nothing.
  const bytes = given.constructor === Uint8Array ? given : new Uint8Array(given);
  if (bytes.length === 0) throw new MediaError('empty', 'the file is empty', 'Copy or export it again.');
  if (bytes.length > MAX_FILE_BYTES)
    throw new MediaError(
      'too-large',
      `the file has ${Math.round(bytes.length / 2 ** 20)} MB, more than ${MAX_FILE_BYTES / 2 ** 20}`,
      'Save it smaller and import that.',
    );
  const kind = sniff(bytes);
  if (!kind)
    throw new MediaError(
      'unknown',
      'it is neither a picture nor a clip that can be opened here',
      `${FORMATS}: save it as one of these.`,
    );
  const raw = await (await readers[kind]())(bytes);
  return finish(raw, { ...defaultDecode, ...options });
}
