/** A press on a person's skin: the region, a clean patch in it and the push to the line, as one ordinary correction. */
import { newUse } from '../../../core/graph/plan.defaults';
import type { OpTerm } from '../../../core/graph/plan';
import { PRESS } from '../../../core/matte/skin';
import { put } from '../../../document/history';
import { newId, ownCorrectionsOf, projectOf } from '../../../document/records';
import type { CorrectionRecord } from '../../../document/records';
import type { Requests } from '../../../protocol/messages';
import { formatNumber } from '../../../ui/NumberBox';
import { addPatch, editPatch, shotState } from '../../actions';
import { freeName, useId } from '../../edit';
import { engine } from '../../engine';
import { guard, sayNews } from '../../notices';
import { useDoc, useSession } from '../../store';
import type { Hand, Tool } from './tool';

type Found = Requests['skinPress']['out'];
const d1 = (v: number | null | undefined): string =>
  v === null || v === undefined ? 'too neutral to read' : `${formatNumber(v, 1, true)}\u00b0`;

function termOf({ media, points }: Hand, id: string, frame: number): OpTerm {
  const { x, y } = points[0]!;
  const brushPx = Math.round(10 * Math.max(4, PRESS * Math.max(media.width, media.height))) / 10;
  const at: [number, number] = [Math.round(10 * x) / 10, Math.round(10 * y) / 10];
  return {
    id,
    join: 'and',
    not: false,
    name: 'Skin',
    use: newUse(useId(), 'skin', { brushPx }),
    // What other corrections do to the picture does not shift it.
    reads: 'base',
    strokes: [{ keep: true, frame, points: [at] }],
  };
}
/** In a sentence: what was found, where it lay, where it lies. */
export function foundSaid(name: string, f: Found): string {
  const share = `${name}: ${(100 * f.coverage).toFixed(1)} % of the picture.`;
  const push = f.solved
    ? ` The whole skin read ${d1(f.before?.offLineDeg)}, its clean patch ${d1(f.solved.before.offLineDeg)}; now ` +
      `${d1(f.after?.offLineDeg)} and ${d1(f.solved.after.offLineDeg)}. One undo takes it back.`
    : ` ${f.fault ?? 'Nothing was pushed'}.`;
  return [share + push, ...f.said].join(' ');
}

export const skinPress: Tool = {
  hint:
    'Press on clean skin of one person: the region, a patch in it and the push to the line are found. Keys: Enter ' +
    'places the cross, arrows move it, Enter twice presses, Escape leaves.',
  draws: 'place',
  during: (hand) => Promise.resolve(termOf(hand, 'preview', useSession.getState().frame)),
  finish: async (hand) => {
    const { shot, media } = hand;
    const { frame, bits } = useSession.getState();
    const { records } = useDoc.getState();
    const list = ownCorrectionsOf(records, shot.id);
    const brush = Math.max(2, Math.round(Math.max(media.width, media.height) / 200));
    const c: CorrectionRecord = {
      type: 'correction',
      id: newId('corr'),
      owner: shot.id,
      name: freeName(
        'Skin',
        list.map((x) => x.name),
      ),
      on: true,
      mixPct: 100,
      order: (list.at(-1)?.order ?? 0) + 1,
      terms: [termOf(hand, useId(), frame)],
      // The region ends between pixels of a small copy of the picture: the edge is laid onto the picture's own.
      tidy: [newUse(useId(), 'edgeFit', { radiusPx: brush })],
      adjustments: [],
    };
    // Asked for before anything is changed: what is shown stays until all of it is known.
    const found = await guard('The skin was not found', () =>
      engine().request('skinPress', {
        // Before what a scene does, as it will stand.
        shot: shotState(put(c)(records), shot),
        correction: c.id,
        kind: 'balance',
        strength: 1,
        skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
        bits,
      }),
    );
    if (!found) return;
    const doc = useDoc.getState();
    doc.begin('Bring skin to the line by a press');
    doc.change('Add a correction', put({ ...c, adjustments: found.solved?.adjustments ?? [] }));
    if (found.patch) editPatch(addPatch(shot.id, found.patch).id, 'Name the patch', { name: `${c.name}, clean` });
    doc.end();
    useSession.getState().set({
      correction: c.id,
      term: c.terms[0]!.id,
      step: found.solved ? 'correct' : 'isolate',
      conversionOpen: false,
      tool: 'none',
    });
    sayNews(foundSaid(c.name, found));
  },
};
