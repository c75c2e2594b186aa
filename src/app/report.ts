/** Gathers a shot's proof from the engine and gives it to the person as a file that can be printed. */
import { hasRegion } from '../core/graph/region';
import { timecodeOf } from '../core/math/timecode';
import { correctionsOf, mediaOf, patchesOf, projectOf } from '../document/records';
import type { MediaRecord, ShotRecord } from '../document/records';
import type { RenderReply, RenderRequest } from '../protocol/messages';
import { frameOf, shotState } from './actions';
import { paintScope } from './bench/scopePaint';
import { patchSpec, slotOf } from './bench/scopeSlots';
import { plain, sentence } from './bench/sentence';
import { cardRequest } from './cardRequest';
import { engine } from './engine';
import { download, fileStem } from './files';
import { limitsSaid } from './limitsText';
import { sayNews } from './notices';
import { reportHtml } from './reportText';
import type { ReportCorrection, ReportData } from './reportText';
import { useDoc, useSession } from './store';
import { wordsOf } from './words';

const WIDE = 900;
const SMALL = 360;
const SCOPE = 320;
/** Vectorscope and waveform. */
const SCOPES = (['vector', 'luma'] as const).map(slotOf);

function canvas(w: number, h: number): { el: HTMLCanvasElement; c: CanvasRenderingContext2D } {
  const el = document.createElement('canvas');
  [el.width, el.height] = [w, h];
  return { el, c: el.getContext('2d')! };
}
function dataUrl(r: Pick<RenderReply, 'rgba' | 'w' | 'h'>, type: 'image/jpeg' | 'image/png'): string {
  const { el, c } = canvas(r.w, r.h);
  c.putImageData(new ImageData(r.rgba, r.w, r.h), 0, 0);
  return el.toDataURL(type, 0.9);
}
function scopesOf(r: RenderReply, when: string, lineDeg: number): { title: string; src: string }[] {
  return SCOPES.map((s, i) => {
    const { el, c } = canvas(SCOPE, SCOPE);
    const line = { deg: lineDeg, bandDeg: useSession.getState().bandDeg, show: true };
    const look = { strength: 1, colour: false, scale: 'pct' } as const;
    paintScope({ c, w: SCOPE, h: SCOPE }, s, r.scopes?.[i], undefined, line, look, 75);
    return { title: `${s.kind === 'vector' ? 'vectorscope' : 'waveform, luma'}, ${when}`, src: el.toDataURL() };
  });
}

async function gather(shot: ShotRecord, media: MediaRecord): Promise<ReportData> {
  const { records } = useDoc.getState();
  const { bits, limits } = useSession.getState();
  const project = projectOf(records);
  const line = project?.skinLineDeg ?? 123;
  const frame = frameOf(shot);
  const state = shotState(records, shot);
  const patches = patchesOf(records, shot.id);
  const ask = (over: Partial<RenderRequest>, w: number): Promise<RenderReply> =>
    engine().request('card', {
      ...cardRequest(state, media, w, { patches: patches.map(patchSpec), skinLineDeg: line, bits }),
      ...over,
    });
  const scopes = SCOPES.map((s) => ({
    kind: s.kind,
    over: 'whole' as const,
    when: 'after' as const,
    zoom: 1,
    px: [SCOPE, SCOPE] as const,
  }));
  const after = await ask({ scopes }, WIDE);
  const before = await ask({ scopes, shot: shotState(records, shot, true) }, WIDE);
  const corrections: ReportCorrection[] = [];
  for (const c of correctionsOf(records, shot.id)) {
    const whole = !hasRegion(c);
    const view = cardRequest(state, media, SMALL).view;
    const matte = whole ? null : await ask({ focus: c.id, view: { ...view, mode: 'matte' } }, SMALL);
    const asked = c.on
      ? await engine()
          .request('figures', { shot: state, correction: c.id })
          .then(
            (figures) => ({ figures, fault: '' }),
            (e: unknown) => ({ figures: null, fault: wordsOf(e) }),
          )
      : { figures: null, fault: '' };
    corrections.push({
      name: c.name,
      on: c.on,
      says: plain(sentence(c, records, frame)),
      whole,
      matte: matte && dataUrl(matte, 'image/png'),
      ...asked,
    });
  }
  const moves = media.frames > 1;
  return {
    shot: shot.name,
    project: project?.name ?? '',
    file: media.fileName,
    moment: moves ? `at frame ${frame}, ${timecodeOf(shot.timecode.start + frame, shot.rate, shot.timecode.drop)}` : '',
    encoding: typeof shot.encoding === 'string' ? shot.encoding : 'own encoding',
    when: new Date().toISOString().slice(0, 10),
    bits,
    pictures: [
      { title: 'before', src: dataUrl(before, 'image/jpeg') },
      { title: 'after', src: dataUrl(after, 'image/jpeg') },
      ...scopesOf(before, 'before', line),
      ...scopesOf(after, 'after', line),
    ],
    corrections,
    skin: patches.map((p) => {
      const r = after.readings?.find((x) => x.id === p.id);
      return { name: p.name, kind: p.kind, before: r?.before ?? null, after: r?.after ?? null };
    }),
    clipped: { before: before.clipped, after: after.clipped },
    limits: {
      of: limits,
      said: await engine()
        .request('limits', { shot: state, limits })
        .then(limitsSaid, (e: unknown) => `They were not checked: ${wordsOf(e)}`),
    },
    contrast: { before: before.contrast, after: after.contrast },
  };
}
export async function saveReport(shot: ShotRecord): Promise<void> {
  const media = mediaOf(useDoc.getState().records, shot);
  if (!media) return;
  const name = `${fileStem(shot.name)}.report.html`;
  download(name, [reportHtml(await gather(shot, media))], 'text/html');
  sayNews(`${name} is saved: one page that opens in any browser and prints on a sheet.`);
}
