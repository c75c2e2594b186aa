/**
 * The sound of a clip: read from its file, decoded for playing, and copied out packet by packet, as it is. Times are
 * seconds from the clip's first picture on.
 */
import {
  AudioBufferSink,
  BlobSource,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  Input,
  MATROSKA,
  MkvOutputFormat,
  MP4,
  Mp4OutputFormat,
  OggOutputFormat,
  Output,
  QTFF,
  StreamTarget,
  WavOutputFormat,
  WEBM,
  WebMOutputFormat,
} from 'mediabunny';
import type { AudioCodec, InputAudioTrack, OutputFormat } from 'mediabunny';
import type { SoundCopied, SoundPart } from './picture';
import { soundTitle } from './soundTitle';

/** What a file holds of sound. */
export interface SoundInfo {
  codec: string;
  title: string;
  channels: number;
  /** Samples a second. */
  rate: number;
  /** How many tracks of sound the file has; the first is meant. */
  tracks: number;
}
const formatOf = (kind: 'webm' | 'mp4'): OutputFormat =>
  kind === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat();
/** Whether a clip of that kind can hold it as it is. */
export const holds = (kind: 'webm' | 'mp4', codec: string): boolean =>
  formatOf(kind)
    .getSupportedAudioCodecs()
    .includes(codec as AudioCodec);
/** What a file of sound alone ends with: the plainest container that holds it as it is. */
export function endOfSound(codec: string): 'wav' | 'm4a' | 'ogg' | 'mka' {
  if (new WavOutputFormat().getSupportedAudioCodecs().includes(codec as AudioCodec)) return 'wav';
  if (codec === 'opus' || codec === 'vorbis') return 'ogg';
  return new Mp4OutputFormat().getSupportedAudioCodecs().includes(codec as AudioCodec) ? 'm4a' : 'mka';
}

/** The first track of sound of a file, and where its first picture lies. */
export class Sound {
  private constructor(
    private readonly input: Input,
    private readonly track: InputAudioTrack,
    private readonly zero: number,
    readonly info: SoundInfo,
  ) {}
  /** Null where there is none, or none that is known. */
  static async open(file: Blob): Promise<Sound | null> {
    const input = new Input({ formats: [MP4, QTFF, WEBM, MATROSKA], source: new BlobSource(file) });
    const tracks = await input.getAudioTracks();
    const track = tracks[0];
    const codec = await track?.getCodec();
    if (!track || !codec) {
      input.dispose();
      return null;
    }
    const picture = await input.getPrimaryVideoTrack();
    // What an edit list leaves out before the start has a time below 0 and is not shown.
    const zero = Math.max(0, (await picture?.getFirstTimestamp()) ?? 0);
    return new Sound(input, track, zero, {
      codec,
      title: soundTitle(codec),
      channels: await track.getNumberOfChannels(),
      rate: await track.getSampleRate(),
      tracks: tracks.length,
    });
  }
  /** Decoded, piece by piece, from the piece on that is heard at `from`. Where there is an AudioDecoder. */
  async *buffers(from: number, to: number): AsyncGenerator<{ at: number; buffer: AudioBuffer }> {
    for await (const b of new AudioBufferSink(this.track).buffers(this.zero + from, this.zero + to))
      yield { at: b.timestamp - this.zero, buffer: b.buffer };
  }
  canDecode(): Promise<boolean> {
    return this.track.canDecode();
  }
  /**
   * Copies packets that begin in [from, to): `add` takes each at its time after `from`. The generator yields the time
   * of the packet that comes next, so that a writer can take as many as belong to a picture.
   */
  async *copy(from: number, to: number, source: EncodedAudioPacketSource): AsyncGenerator<number, SoundCopied> {
    const sink = new EncodedPacketSink(this.track);
    const config = (await this.track.getDecoderConfig()) ?? undefined;
    let packets = 0;
    let late = 0;
    const first = (await sink.getPacket(this.zero + from)) ?? (await sink.getFirstPacket());
    for (let p = first; p; p = await sink.getNextPacket(p)) {
      const at = p.timestamp - this.zero - from;
      // A packet that began before the first picture is left out: half of one cannot be written.
      if (at < -1e-6) continue;
      if (at >= to - from - 1e-6) break;
      yield at;
      if (packets === 0) late = at;
      await source.add(
        p.clone({ timestamp: Math.max(0, at) }),
        packets === 0 && config ? { decoderConfig: config } : {},
      );
      packets++;
    }
    return { packets, late };
  }
  close(): void {
    this.input.dispose();
  }
}
/** Writes a part as a file of its own. Null where the file has no sound. */
export async function writeSound(
  part: SoundPart,
  put: (data: Uint8Array, at: number) => void,
): Promise<SoundCopied | null> {
  const sound = await Sound.open(part.file);
  if (!sound) return null;
  try {
    const { codec } = sound.info;
    const formats = { wav: WavOutputFormat, m4a: Mp4OutputFormat, ogg: OggOutputFormat, mka: MkvOutputFormat };
    const output = new Output({
      format: new formats[endOfSound(codec)](),
      target: new StreamTarget(
        new WritableStream({
          write: ({ data, position }: { data: Uint8Array; position: number }) => put(data, position),
        }),
      ),
    });
    const source = new EncodedAudioPacketSource(codec as AudioCodec);
    output.addAudioTrack(source);
    await output.start();
    const packets = sound.copy(part.from, part.to, source);
    for (;;) {
      const { done, value } = await packets.next();
      if (!done) continue;
      if (value.packets > 0) await output.finalize();
      else await output.cancel();
      return value;
    }
  } finally {
    sound.close();
  }
}
