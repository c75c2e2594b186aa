/** Clips and sequences on their way in. */
import { newUse } from '../core/graph/plan.defaults';
import { put } from '../document/history';
import { mediaOf, newId, shotsOf } from '../document/records';
import type { MediaRecord, Rate, ShotRecord } from '../document/records';
import type { EncodingRef } from '../core/color/encodings';
import { needsConversion } from './actions';
import { openClip, sumOf } from './clips';
import { Cancelled, decode } from './decoder';
import { sha256Hex } from './db';
import { freeName } from './edit';
import { files as kept } from './kept';
import { sayNews } from './notices';
import { arriving } from './opening';
import { sumsOf } from './persist';
import type { ClipInfo } from '../media/picture';
import { soundTitle } from '../media/soundTitle';
import { WHOLE_BYTES } from '../media/fingerprint';
import { runOf } from '../media/sequence';
import { sniff, SNIFFED, sniffClip } from '../media/sniff';
import type { Run } from '../media/sequence';
import { useDoc, useSession } from './store';

/** By what the file begins with, and by its name where that tells nothing. */
export async function isClip(file: File): Promise<boolean> {
  const head = new Uint8Array(await file.slice(0, SNIFFED).arrayBuffer());
  if (sniffClip(head)) return true;
  return !sniff(head) && /\.(mp4|m4v|mov|webm|mkv)$/i.test(file.name);
}

/** How an import tells where it is: the stage, and a word about it. */
export interface Progress {
  signal: AbortSignal;
  stage(s: 'reading' | 'decoding' | 'keeping', message?: string): void;
}

/** A shot of a media, with a name that is free. */
export function shotOf(
  media: MediaRecord,
  stem: string,
  encoding: EncodingRef,
  more: Partial<ShotRecord> = {},
): ShotRecord {
  const list = shotsOf(useDoc.getState().records);
  const taken = list.map((s) => s.name);
  return {
    type: 'shot',
    id: newId('shot'),
    name: taken.includes(stem) ? freeName(stem, taken) : stem,
    media: media.id,
    encoding,
    encodingGuessed: true,
    conversion: newUse('conversion', 'convert', {}, needsConversion(encoding)),
    range: [0, media.frames - 1],
    rate: [24, 1],
    timecode: { start: 0, drop: false },
    order: (list.at(-1)?.order ?? 0) + 1,
    ...more,
  };
}
const stop = (s: AbortSignal): void => {
  if (s.aborted) throw new Cancelled();
};
/** A media of the same file(s) that is in the document, whose files may have gone. */
const known = (sha256: string): MediaRecord | undefined =>
  Object.values(useDoc.getState().records).find(
    (r): r is MediaRecord => r.type === 'media' && r.sha256 === sha256 && r.source.from === 'file',
  );

/** Whether a clip that was read whole, and whose file has gone, is waited for. */
async function isMissed(): Promise<boolean> {
  for (const r of Object.values(useDoc.getState().records))
    if (r.type === 'media' && r.kind === 'clip' && r.source.from === 'file' && !r.ofParts)
      if ((await kept.size(r.sha256)) === 0) return true;
  return false;
}

/** What the project remembers of a clip. */
export function mediaOfClip(file: File, info: ClipInfo, sha256: string): MediaRecord {
  return {
    type: 'media',
    id: newId('media'),
    kind: 'clip',
    fileName: file.name,
    format: info.format,
    bits: info.bits,
    width: info.width,
    height: info.height,
    frames: info.frames,
    pixelAspect: info.pixelAspect,
    sha256,
    yuv: { ...info.meaning, guessed: info.guessed.some((g) => g === 'matrix' || g === 'range') },
    source: { from: 'file' },
  };
}

/** A clip that came in: it is looked at while `keep` still runs. */
export interface ClipCame {
  shot: ShotRecord;
  /** Ends when the file is kept; rejects with Cancelled, or with what went wrong. */
  keep: Promise<void>;
}
/** Brings a clip in; null where only a missing file was linked again. */
export async function importClip(file: File, p: Progress): Promise<ClipCame | null> {
  p.stage('reading');
  await kept.check(file.size);
  const info = await openClip(file, (n) => p.stage('decoding', `${n} frames counted`), p.signal);
  stop(p.signal);
  const sum = (what: 'whole' | 'parts'): Promise<string> =>
    sumOf(
      file,
      what,
      (share) => p.stage('decoding', `${info.frames} frames, checksum ${Math.round(100 * share)} %`),
      p.signal,
    );
  // A large one is known by parts of it, so that its first picture is there as soon as that of a small one.
  const ofParts = file.size > WHOLE_BYTES;
  // One that a shot is waiting for may have been read whole by an earlier version.
  const whole = ofParts && (await isMissed()) ? await sum('whole') : null;
  const sha256 = whole && known(whole) ? whole : await sum(ofParts ? 'parts' : 'whole');
  stop(p.signal);
  const there = known(sha256);
  const missing = there && (await kept.size(sha256)) === 0;
  p.stage('keeping', missing ? 'linking again' : '');
  const so = (bytes: number): void =>
    p.stage('keeping', `${Math.floor((100 * bytes) / Math.max(1, file.size))} % of ${mb(file.size)} MB kept`);
  const keep = kept
    .during(sha256, () => kept.put(sha256, file.name, file, { so, signal: p.signal }))
    .catch((e: unknown) => {
      throw p.signal.aborted ? new Cancelled() : e;
    });
  keep.catch(() => {});
  if (missing) {
    await keep;
    sayNews(`${file.name} is linked again.`);
    return null;
  }
  const media: MediaRecord = { ...mediaOfClip(file, info, sha256), ...(ofParts ? { ofParts } : {}) };
  const shot = shotOf(media, file.name.replace(/\.[^.]+$/, '') || file.name, info.encoding, {
    rate: info.rate,
    timecode: info.timecode,
  });
  // It is looked at while it is still being kept.
  arriving.set(sha256, file);
  useDoc.getState().change(`Import ${file.name}`, put(media, shot));
  const said = [
    `${info.codec}, ${info.frames} frames`,
    ...info.notes,
    ...(info.audio ? [`its sound (${soundTitle(info.audio.codec)}) is kept`] : []),
  ];
  sayNews(`${file.name} is imported: ${said.join('; ')}.`);
  return { shot, keep: keep.finally(() => arriving.delete(sha256)) };
}
const mb = (bytes: number): string => (bytes < 10e6 ? (bytes / 1e6).toFixed(1) : String(Math.round(bytes / 1e6)));

export interface Sequence extends Omit<Run, 'names'> {
  files: File[];
}
/** Files to a numbered sequence; null where there is none. Of two with one name (in two folders) the first counts. */
export function findSequence(list: readonly File[]): Sequence | null {
  const byName = new Map([...list].reverse().map((f) => [f.name, f]));
  const run = runOf([...byName.keys()].sort());
  return run && { ...run, files: run.names.map((n) => byName.get(n)!) };
}

/** Brings a sequence in; every file is kept by itself. */
export async function importSequence(s: Sequence, rate: Rate, p: Progress): Promise<ShotRecord | null> {
  const options = useSession.getState().importing;
  p.stage('reading');
  await kept.check(s.files.reduce((a, f) => a + f.size, 0));
  const first = await decode(await s.files[0]!.arrayBuffer(), options, 'import', p.signal);
  const entries: { name: string; sha256: string }[] = [];
  // One after another: a thousand pictures at once would not fit into memory.
  for (const [i, f] of s.files.entries()) {
    stop(p.signal);
    entries.push({ name: f.name, sha256: await sha256Hex(await f.arrayBuffer()) });
    p.stage('decoding', `${i + 1} of ${s.files.length}`);
  }
  const all = await sha256Hex(new TextEncoder().encode(entries.map((e) => e.sha256).join('')).buffer);
  const there = known(all);
  const media: MediaRecord = there ?? {
    type: 'media',
    id: newId('media'),
    kind: 'sequence',
    fileName: s.title,
    format: first.format,
    bits: first.bits,
    width: first.width,
    height: first.height,
    frames: entries.length,
    pixelAspect: first.pixelAspect ?? [1, 1],
    sha256: all,
    files: entries,
    source: { from: 'file' },
    decode: options,
  };
  // All of them until a record speaks of them: what nobody needs is collected.
  return kept.during(sumsOf(media), async () => {
    for (const [i, f] of s.files.entries()) {
      stop(p.signal);
      await kept.put(entries[i]!.sha256, f.name, f);
      p.stage('keeping', `${i + 1} of ${s.files.length}`);
    }
    const shown = there && shotsOf(useDoc.getState().records).find((x) => x.media === there.id);
    if (shown && mediaOf(useDoc.getState().records, shown)) {
      sayNews(`${s.title} is linked again.`);
      return null;
    }
    const stem = s.title.replace(/[-_. ]*\[.*$/, '') || 'Sequence';
    const shot = shotOf(media, stem, first.encoding, { rate });
    useDoc.getState().change(`Import ${s.title}`, put(media, shot));
    const said = [
      `${entries.length} frames`,
      ...(s.gaps ? [`numbers ${s.gaps} are missing: what stands before and after them follows at once`] : []),
      ...(s.odd.length ? [`left out: ${s.odd.slice(0, 4).join(', ')}${s.odd.length > 4 ? ' and others' : ''}`] : []),
      ...first.notes,
    ];
    sayNews(`${s.title} is imported: ${said.join('; ')}.`);
    return shot;
  });
}
