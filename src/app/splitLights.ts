/** Skin under two lights: one region becomes two, told apart by hue, each brought to the line by itself. */
import type { Term } from '../core/graph/plan';
import { lightKey } from '../core/skin/lightKey';
import { put } from '../document/history';
import { projectOf } from '../document/records';
import type { CorrectionRecord, Records, ShotRecord } from '../document/records';
import type { Requests } from '../protocol/messages';
import { addPatch, copyOf, editPatch, reorder, shotState } from './actions';
import { correction, editCorrection, tooDeep, useId } from './edit';
import { engine } from './engine';
import { guard, sayError, sayNews } from './notices';
import { useDoc, useSession } from './store';

export const regionReadsOf = (
  shot: ShotRecord,
  corr: string,
  _use: string,
  signal?: AbortSignal,
): Promise<Requests['regionReads']['out']> => {
  const { records } = useDoc.getState();
  return engine().request(
    'regionReads',
    {
      shot: shotState(records, shot),
      correction: corr,
      skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
      bits: useSession.getState().bits,
    },
    signal,
  );
};

const within = (terms: readonly Term[]): Term[] =>
  terms.length === 1
    ? [...terms]
    : [{ id: useId(), join: 'and', not: false, name: 'Skin', on: true, group: [...terms] }];

/** Two corrections for one, in one undo: what it did else both go on doing. */
export async function splitLights(shot: ShotRecord, corr: string): Promise<void> {
  await guard('The region was not divided', async () => {
    const c = correction(corr);
    if (!c) return;
    const { before } = await regionReadsOf(shot, corr, '');
    const two = before?.two;
    if (!two || before.hueDeg === null) {
      sayError(`What "${c.name}" holds has one hue: there is nothing to divide.`);
      return;
    }
    const key = lightKey(useId(), before.hueDeg, two);
    // A push that was solved for both is right for neither.
    const adjustments = c.adjustments.filter((u) => u.solved !== 'line');
    const part = (not: boolean): Term[] => [...within(c.terms), { ...key, not }];
    if (tooDeep(c, part(false))) return;
    const yellower: CorrectionRecord = { ...c, name: `${c.name}, yellower`, terms: part(false), adjustments };
    const redder = copyOf(yellower, { name: `${c.name}, redder`, terms: part(true), order: c.order + 0.5 });
    let records: Records = put(yellower, redder)(useDoc.getState().records);
    const solved: { c: CorrectionRecord; found: Requests['skinPress']['out'] }[] = [];
    for (const one of [yellower, redder]) {
      const found = await engine().request('skinPress', {
        shot: shotState(records, shot),
        correction: one.id,
        kind: 'balance',
        strength: 1,
        skinLineDeg: projectOf(records)?.skinLineDeg ?? 123,
        bits: useSession.getState().bits,
      });
      const now = { ...one, adjustments: found.solved?.adjustments ?? one.adjustments };
      records = put(now)(records);
      solved.push({ c: now, found });
    }
    const [a, b] = solved as [(typeof solved)[0], (typeof solved)[0]];
    const doc = useDoc.getState();
    doc.begin('Divide by the two lights');
    const { name, terms } = a.c;
    editCorrection(c.id, 'Divide', (x) => ({ ...x, name, terms, adjustments: a.c.adjustments }));
    doc.change('Add a correction', (r) => reorder(put(b.c)(r), c.owner));
    for (const s of solved)
      if (s.found.patch)
        editPatch(addPatch(shot.id, s.found.patch).id, 'Name the patch', { name: `${s.c.name}, clean` });
    doc.end();
    const said = solved.map(({ c: x, found }) => {
      const deg = (v: number | null | undefined): string =>
        v == null ? 'too neutral to read' : `${v.toFixed(1)}\u00b0`;
      return found.solved
        ? `${x.name}: ${deg(found.before?.offLineDeg)} before, ${deg(found.after?.offLineDeg)} after.`
        : `${x.name}: ${found.fault ?? 'nothing was pushed'}.`;
    });
    sayNews(`${said.join(' ')} One undo takes it back.`);
  });
}
