/** A shot's proof as one page of HTML that stands by itself, and as one plain sentence. */
import type { Limits } from '../core/skin/limits';
import type { SurroundFigures } from '../core/skin/surround';
import type { ColourContrast } from '../core/scopes/contrast';
import type { Reading } from '../core/skin/reading';
import type { Clipped } from '../protocol/messages';

export interface ReportCorrection {
  name: string;
  on: boolean;
  /** Region and adjustments in words. */
  says: string;
  /** It acts on the whole picture. */
  whole: boolean;
  /** A picture as a data URL. */
  matte: string | null;
  figures: SurroundFigures | null;
  /** In words, why there are no figures. */
  fault: string;
}
export interface ReportSkin {
  name: string;
  kind: string;
  before: Reading | null;
  after: Reading | null;
}
export interface ReportData {
  shot: string;
  project: string;
  file: string;
  /** `at frame 20, 01:00:00:20`; empty for a still. */
  moment: string;
  /** How the picture is read. */
  encoding: string;
  when: string;
  bits: 8 | 16;
  pictures: { title: string; src: string }[];
  corrections: ReportCorrection[];
  skin: ReportSkin[];
  clipped: { before: Clipped | null; after: Clipped | null };
  contrast: { before: ColourContrast | null; after: ColourContrast | null };
  /** What the receiver allows, and in words how much leaves it. */
  limits: { of: Limits; said: string };
}

const pct = (v: number, digits = 1): string => `${(100 * v).toFixed(digits)} %`;
const deg = (v: number | null | undefined): string =>
  v === undefined ? '\u2013' : v === null ? 'too neutral' : `${v < 0 ? '\u2212' : '+'}${Math.abs(v).toFixed(1)}\u00b0`;
const share = (c: Clipped, end: 'low' | 'high'): number => (c.pixels > 0 ? c[end] / c.pixels : 0);

/** What the figures of one correction say, without its name. */
export function proofSaid(f: SurroundFigures, whole: boolean): string {
  const inside = `inside, the mean change is CIEDE2000 ${f.regionMeanDe.toFixed(1)}`;
  if (whole) return `it acts on the whole picture; ${inside}`;
  if (f.surroundShare === 0) return `it has no surround, the matte is above 0 everywhere; ${inside}`;
  if (f.surroundChanged === 0)
    return `the surround (${pct(f.surroundShare)} of the picture) did not move by a bit; ${inside}`;
  return `${f.surroundChanged} pixels of the surround moved, by up to ${f.surroundMaxCodes} codes of 65535; ` + inside;
}
function skinSaid({ name, before, after }: ReportSkin): string | null {
  // What did not move is no news.
  if (!before || !after || deg(before.offLineDeg) === deg(after.offLineDeg)) return null;
  return `${name} from ${deg(before.offLineDeg)} to ${deg(after.offLineDeg)} off the skin line`;
}
function clippingSaid({ before, after }: ReportData['clipped']): string | null {
  if (!before || !after) return null;
  const more = (['low', 'high'] as const).flatMap((end) => {
    const d = share(after, end) - share(before, end);
    return d > 5e-5 ? [`${pct(d, 2)} more ${end === 'low' ? 'at black' : 'at white'}`] : [];
  });
  return more.length ? `clipped: ${more.join(', ')}` : 'no new clipping';
}
/** All of it in one sentence that can be pasted into a mail. */
export function summaryOf(d: Pick<ReportData, 'shot' | 'moment' | 'corrections' | 'skin' | 'clipped'>): string {
  const parts = [
    ...d.corrections.flatMap((c) => (c.figures && c.on ? [`${c.name}: ${proofSaid(c.figures, c.whole)}`] : [])),
    ...d.skin.filter((p) => p.kind === 'skin').flatMap((p) => skinSaid(p) ?? []),
    ...[clippingSaid(d.clipped)].flatMap((x) => x ?? []),
  ];
  return `${d.shot}${d.moment ? ` ${d.moment}` : ''}: ${parts.join('; ') || 'nothing is corrected'}.`;
}

const esc = (s: string): string =>
  s.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);
const cell = (tag: 'th' | 'td', c: string): string => `<${tag}>${esc(c)}</${tag}>`;
const row = (cells: readonly string[], head = false): string =>
  `<tr${head ? ' class="head"' : ''}>${cells.map((c, i) => cell(head || i === 0 ? 'th' : 'td', c)).join('')}</tr>`;
const picture = (p: { title: string; src: string }): string =>
  `<figure><img src="${p.src}" alt="${esc(p.title)}"><figcaption>${esc(p.title)}</figcaption></figure>`;

const STYLE = `
body{font:14px/1.45 "Source Sans 3",system-ui,sans-serif;color:#1c1c1c;background:#fff}
body{max-width:1000px;margin:24px auto;padding:0 16px}
h1{font:italic 26px Georgia,serif;margin:0}h2{font-size:16px;margin:20px 0 4px}p{margin:4px 0}.dim{color:#666}
.sum{border:1px solid #bbb;padding:8px 12px;margin:12px 0}
.pics{display:grid;grid-template-columns:1fr 1fr;gap:10px}.pics.small{grid-template-columns:repeat(4,1fr)}
figure{margin:0}img{width:100%;display:block;background:#777}figcaption{font-size:12px;color:#666}
table{border-collapse:collapse;width:100%;margin:6px 0}
th,td{text-align:right;padding:2px 8px;border-bottom:1px solid #ddd;font-weight:400}
th:first-child{text-align:left}.head th{color:#666}
.one{display:grid;grid-template-columns:180px 1fr;gap:14px;break-inside:avoid}
@media print{body{margin:0;max-width:none;font-size:11px}@page{size:A4;margin:12mm}}
`;

function correctionHtml(c: ReportCorrection): string {
  const f = c.figures;
  const figures = f
    ? `<p><b>${esc(proofSaid(f, c.whole).replace(/^./, (x) => x.toUpperCase()))}.</b></p><table>${[
        ['Surround, pixels with a changed bit', String(f.surroundChanged)],
        ['Largest and mean change in it, 16-bit codes', `${f.surroundMaxCodes}, ${f.surroundMeanCodes.toFixed(3)}`],
        ['Surround, fringe, full matte', [f.surroundShare, f.fringeShare, f.fullShare].map((v) => pct(v)).join(', ')],
        ['Largest change in the region, 16-bit codes', String(f.regionMaxCodes)],
      ]
        .map((r) => row(r))
        .join('')}</table>`
    : `<p>${esc(c.fault || 'It is off.')}</p>`;
  const matte = c.matte ? picture({ title: 'matte', src: c.matte }) : '<p class="dim">the whole picture</p>';
  return (
    `<h2>${esc(c.name)}${c.on ? '' : ' (off)'}</h2><div class="one"><div>${matte}</div>` +
    `<div><p>${esc(c.says)}</p>${figures}</div></div>`
  );
}
const contrastRow = (what: string, c: ColourContrast | null): string[] =>
  c
    ? [
        what,
        `${c.coolPct.toFixed(1)} to ${c.warmPct.toFixed(1)} %`,
        `${c.distancePct.toFixed(1)} %`,
        c.hueSpreadDeg === null ? 'neutral' : `\u00b1${c.hueSpreadDeg.toFixed(0)}\u00b0`,
      ]
    : [what, '\u2013', '\u2013', '\u2013'];
const clippedRow = (what: string, c: Clipped | null): string[] =>
  c ? [what, pct(share(c, 'low'), 3), pct(share(c, 'high'), 3)] : [what, '\u2013', '\u2013'];

export function reportHtml(d: ReportData): string {
  const readings = d.skin.map((p) => [
    `${p.name} (${p.kind})`,
    `${deg(p.before?.offLineDeg)} \u2192 ${deg(p.after?.offLineDeg)}`,
    p.before && p.after ? `${p.before.chromaPct.toFixed(1)} \u2192 ${p.after.chromaPct.toFixed(1)} %` : '\u2013',
    p.before && p.after ? `${p.before.lumaPct.toFixed(1)} \u2192 ${p.after.lumaPct.toFixed(1)} %` : '\u2013',
  ]);
  const table = (head: string[], rows: string[][]): string =>
    `<table>${[row(head, true), ...rows.map((r) => row(r))].join('')}</table>`;
  const head = [d.project, d.file, d.moment, d.encoding, `for a ${d.bits}-bit file`, d.when].filter(Boolean);
  const clipped = [clippedRow('before', d.clipped.before), clippedRow('after', d.clipped.after)];
  const contrast = [contrastRow('before', d.contrast.before), contrastRow('after', d.contrast.after)];
  const more = d.pictures.slice(2).map(picture).join('');
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${esc(d.shot)}, report</title><style>${STYLE}</style></head><body>
<h1>${esc(d.shot)}</h1>
<p class="dim">${esc(head.join(' \u00b7 '))}</p>
<p class="sum">${esc(summaryOf(d))}</p>
<div class="pics">${d.pictures.slice(0, 2).map(picture).join('')}</div>
${more ? `<div class="pics small">${more}</div>` : ''}
${d.corrections.map(correctionHtml).join('\n')}
<h2>Readings</h2>
${readings.length ? table(['patch', 'off-line', 'chroma', 'luma'], readings) : '<p>No patch was measured.</p>'}
${table(['clipped', 'at black', 'at white'], clipped)}
${table(['colour contrast', 'cool to warm', 'apart', 'hues'], contrast)}
<p>Limits of each channel's signal, ${d.limits.of.lowPct} to ${d.limits.of.highPct} %: ${esc(d.limits.said)}</p>
<p class="dim">Surround: pixels with matte 0, compared bit for bit with what the correction was given, at full
resolution. Off-line: degrees from the skin line of the vectorscope, a guide and no law. Readings are those of the
file's codes.</p>
</body></html>
`;
}
