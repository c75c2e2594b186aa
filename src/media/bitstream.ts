/**
 * What the pictures of a clip say of themselves, whatever the container says: colour code points as numbers (names lose
 * those that have none), range, places of chroma, interlaced fields. ITU-T H.264 7.3.2.1 and annex E; AV1 bitstream
 * specification 5.3, 5.5; VP9 bitstream specification 6.2, 7.2.2.
 */
import type { Siting } from '../core/color/yuv';

export interface BitstreamFacts {
  /** H.273 code points; null where nothing is said. */
  primaries: number | null;
  transfer: number | null;
  matrix: number | null;
  full: boolean | null;
  siting: Siting | null;
  /** Has fewer samples of chroma than pixels, so that they lie somewhere. */
  halved: boolean;
  interlaced: boolean;
}
const nothing: BitstreamFacts = {
  primaries: null,
  transfer: null,
  matrix: null,
  full: null,
  siting: null,
  halved: true,
  interlaced: false,
};
/** H.273: 2 says that nothing is said. */
const said = (code: number): number | null => (code === 2 ? null : code);

class Bits {
  private at = 0;
  constructor(private readonly bytes: ArrayLike<number>) {}
  one(): number {
    const byte = this.bytes[this.at >> 3];
    if (byte === undefined) throw new RangeError('The description of the pictures ends too early');
    return (byte >> (7 - (this.at++ & 7))) & 1;
  }
  take(n: number): number {
    let v = 0;
    for (let i = 0; i < n; i++) v = v * 2 + this.one();
    return v;
  }
  /** Exponential Golomb, unsigned and signed. */
  ue(): number {
    let zeros = 0;
    while (this.one() === 0) if (++zeros > 31) throw new RangeError('The description of the pictures is damaged');
    return 2 ** zeros - 1 + this.take(zeros);
  }
  se(): number {
    const k = this.ue();
    return k & 1 ? (k + 1) / 2 : -k / 2;
  }
}

/** An H.264 sequence parameter set (a NAL unit with its header byte). Throws a RangeError where it ends too early. */
export function readSps(nal: Uint8Array): BitstreamFacts {
  // Without the bytes that keep start codes apart.
  const b = new Bits(nal.subarray(1).filter((x, i, a) => !(x === 3 && a[i - 1] === 0 && a[i - 2] === 0)));
  const profile = b.take(8);
  b.take(16);
  b.ue();
  let chroma = 1;
  if ([100, 110, 122, 244, 44, 83, 86, 118, 128, 138, 139, 134, 135].includes(profile)) {
    chroma = b.ue();
    if (chroma === 3) b.one();
    b.ue();
    b.ue();
    b.one();
    if (b.one())
      for (let i = 0; i < (chroma === 3 ? 12 : 8); i++)
        if (b.one()) {
          let last = 8;
          let next = 8;
          for (let j = 0; j < (i < 6 ? 16 : 64); j++) {
            if (next !== 0) next = (last + b.se() + 256) % 256;
            last = next === 0 ? last : next;
          }
        }
  }
  b.ue();
  const order = b.ue();
  if (order === 0) b.ue();
  else if (order === 1) {
    b.one();
    b.se();
    b.se();
    for (let i = b.ue(); i > 0; i--) b.se();
  }
  b.ue();
  b.one();
  b.ue();
  b.ue();
  // Where it says nothing of its range it is narrow (annex E, video_full_range_flag).
  const facts: BitstreamFacts = { ...nothing, full: false, halved: chroma < 3, interlaced: b.one() === 0 };
  if (facts.interlaced) b.one();
  b.one();
  if (b.one()) for (let i = 0; i < 4; i++) b.ue();
  if (b.one()) {
    if (b.one() && b.take(8) === 255) b.take(32);
    if (b.one()) b.one();
    if (b.one()) {
      b.take(3);
      facts.full = b.one() === 1;
      if (b.one()) {
        facts.primaries = said(b.take(8));
        facts.transfer = said(b.take(8));
        facts.matrix = said(b.take(8));
      }
    }
    if (b.one()) facts.siting = (['left', 'centre', 'topLeft'] as const)[b.ue()] ?? null;
  }
  return facts;
}
/** The first parameter set of an AVCDecoderConfigurationRecord (ISO/IEC 14496-15), or of units with start codes. */
function spsOf(description: Uint8Array | null, packet: Uint8Array): Uint8Array | null {
  if (description && description.length > 8) {
    const n = (description[6]! << 8) | description[7]!;
    return description.subarray(8, 8 + n);
  }
  for (let i = 0; i + 3 < packet.length; i++)
    if (packet[i] === 0 && packet[i + 1] === 0 && packet[i + 2] === 1 && (packet[i + 3]! & 31) === 7)
      return packet.subarray(i + 3);
  return null;
}

/** The payload of the first sequence header among AV1's open bitstream units; null where there is none. */
function sequenceHeader(units: Uint8Array): Uint8Array | null {
  for (let at = 0; at < units.length;) {
    const head = units[at]!;
    at += head & 4 ? 2 : 1;
    let size = units.length - at;
    if (head & 2) {
      size = 0;
      for (let i = 0; i < 8; i++) {
        const byte = units[at++] ?? 0;
        size += (byte & 127) * 2 ** (7 * i);
        if (byte < 128) break;
      }
    }
    if (((head >> 3) & 15) === 1) return units.subarray(at, at + size);
    at += size;
  }
  return null;
}
/** An AV1 sequence header (5.5.1, colour 5.5.2). Throws a RangeError where it ends too early. */
export function readAv1(header: Uint8Array): BitstreamFacts {
  const b = new Bits(header);
  const profile = b.take(3);
  b.one();
  const reduced = b.one() === 1;
  if (reduced) b.take(5);
  else {
    let delay = 0;
    if (b.one()) {
      b.take(64);
      if (b.one()) b.ue();
      if (b.one()) {
        delay = b.take(5) + 1;
        b.take(42);
      }
    }
    const shown = b.one() === 1;
    for (let points = b.take(5); points >= 0; points--) {
      b.take(12);
      if (b.take(5) > 7) b.one();
      if (delay > 0 && b.one()) b.take(2 * delay + 1);
      if (shown && b.one()) b.take(4);
    }
  }
  const [w, h] = [b.take(4) + 1, b.take(4) + 1];
  b.take(w + h);
  if (!reduced && b.one()) b.take(7);
  b.take(3);
  if (!reduced) {
    b.take(4);
    const order = b.one() === 1;
    if (order) b.take(2);
    // Either is chosen frame by frame, or said here.
    const screen = b.one() ? 2 : b.one();
    if (screen > 0 && !b.one()) b.one();
    if (order) b.take(3);
  }
  b.take(3);
  const high = b.one() === 1;
  const twelve = profile === 2 && high && b.one() === 1;
  const mono = profile !== 1 && b.one() === 1;
  const facts: BitstreamFacts = { ...nothing };
  let [p, t, m] = [2, 2, 2];
  if (b.one()) [p, t, m] = [b.take(8), b.take(8), b.take(8)];
  [facts.primaries, facts.transfer, facts.matrix] = [said(p), said(t), said(m)];
  if (!mono && p === 1 && t === 13 && m === 0) [facts.full, facts.halved] = [true, false];
  else {
    facts.full = b.one() === 1;
    if (mono) return facts;
    const across = twelve ? b.one() === 1 : profile !== 1;
    facts.halved = across;
    const down = twelve ? across && b.one() === 1 : profile === 0;
    if (across && down) facts.siting = ([null, 'left', 'topLeft'] as const)[b.take(2)] ?? null;
  }
  return facts;
}

/**
 * `color_space` of VP9 (7.2.2) as matrices: what it says of primaries and curves is no more than the name of a
 * standard, and a file of other ones has to say one of these as well.
 */
const VP9 = [null, 6, 1, 6, 7, 9, null, 0] as const;
/** The header of a VP9 key frame (6.2). Throws a RangeError where it ends too early or is none. */
export function readVp9(packet: Uint8Array): BitstreamFacts {
  const b = new Bits(packet);
  const marker = b.take(2);
  const low = b.one();
  const profile = low + 2 * b.one();
  if (profile === 3) b.one();
  const again = b.one();
  const key = b.one() === 0;
  b.take(2);
  if (marker !== 2 || again || !key || b.take(24) !== 0x498342)
    throw new RangeError('The first frame is not one that stands alone');
  if (profile >= 2) b.one();
  const space = b.take(3);
  const full = space === 7 || b.one() === 1;
  const halved = profile % 2 === 0 || (space !== 7 && b.take(2) !== 0);
  return { ...nothing, matrix: VP9[space]!, full, halved };
}

/**
 * @param codec as the container names it: avc, av1, vp9; of any other nothing is known
 * @param description the decoder's description that the container holds, where it does
 * @param packet the first frame as it is coded
 */
export function bitstreamFacts(codec: string, description: Uint8Array | null, packet: Uint8Array): BitstreamFacts {
  try {
    if (codec === 'avc') {
      const sps = spsOf(description, packet);
      if (sps) return readSps(sps);
    } else if (codec === 'av1') {
      const header = sequenceHeader(packet);
      if (header) return readAv1(header);
    } else if (codec === 'vp9') return readVp9(packet);
  } catch (e) {
    console.warn('What the pictures of a clip say of themselves could not be read:', e);
  }
  return nothing;
}
