/**
 * Recipes: a correction kept for reuse. Its text is a project file of its own, in which the correction belongs to a
 * scene of the picture's size: it goes the one road in that every project goes, migrations and checks included.
 */
import { put } from './history';
import { formatProject, parseProject, ProjectFileError } from './projectFile';
import { newId } from './records';
import type { AnyRecord, CorrectionRecord, Records, SceneRecord } from './records';

export interface Kept {
  scene: SceneRecord;
  correction: CorrectionRecord;
  /** All that the file holds: lookup tables as well. */
  records: Records;
}
export interface Size {
  width: number;
  height: number;
}
/** Of a correction without links; the tables that it needs go along. */
export function formatRecipe(name: string, c: CorrectionRecord, size: Size, records: Records): string {
  const scene: SceneRecord = {
    type: 'scene',
    id: newId('scene'),
    name,
    width: size.width,
    height: size.height,
    order: 1,
  };
  const tables = c.adjustments.flatMap((u) => {
    const t = records[String(u.params['table'] ?? '')];
    return t?.type === 'table' ? [t as AnyRecord] : [];
  });
  const copy: CorrectionRecord = { ...c, id: newId('corr'), owner: scene.id, name, order: 1, start: 'after' };
  return formatProject(
    put({ type: 'project', id: newId('project'), name, skinLineDeg: 123 }, scene, copy, ...tables)({}),
  );
}
/** Throws a ProjectFileError. */
export function parseRecipe(text: string): Kept {
  const { records } = parseProject(text);
  const all = Object.values(records);
  const scenes = all.filter((r): r is SceneRecord => r.type === 'scene');
  const corrections = all.filter((r): r is CorrectionRecord => r.type === 'correction');
  const [scene, correction] = [scenes[0], corrections[0]];
  if (scenes.length !== 1 || corrections.length !== 1 || !scene || !correction || correction.owner !== scene.id)
    throw new ProjectFileError(
      'It is a Rowanleaf project, but no recipe: a recipe holds one correction. Open it by Open a project in Shots',
    );
  return { scene, correction, records };
}
