/** Codecs of sound as their standards are called. */
const TITLES: Readonly<Record<string, string>> = {
  aac: 'AAC',
  opus: 'Opus',
  mp3: 'MP3',
  vorbis: 'Vorbis',
  flac: 'FLAC',
  ac3: 'AC-3',
  eac3: 'E-AC-3',
};
export const soundTitle = (codec: string): string =>
  TITLES[codec] ?? (codec.startsWith('pcm') ? 'uncompressed' : codec);
