/**
 * Pictures and readings of cards, kept in the browser so that the contact sheet is there at once. A cache: whatever
 * goes wrong with it, the card is rendered again. In a database of its own, so that it never stands in the way of a
 * write of the document.
 */
import Dexie from 'dexie';
import type { Table } from 'dexie';
import type { PatchReadings, RenderReply } from '../protocol/messages';
import { sha256Hex } from './db';

interface CardRow {
  key: string;
  /** When it was looked at last, in ms; the oldest go first. */
  used: number;
  picture: Blob;
  w: number;
  h: number;
  readings: PatchReadings[];
}
/** At about 40 KB each. */
const MOST = 600;

class Cards extends Dexie {
  declare cards: Table<CardRow, string>;
  constructor() {
    super('rowanleaf-cards');
    this.version(1).stores({ cards: 'key, used' });
  }
}
let db: Cards | null = null;
const table = (): Table<CardRow, string> => (db ??= new Cards()).cards;

export interface Card {
  w: number;
  h: number;
  readings: readonly PatchReadings[];
  picture: ImageBitmap | ImageData;
}
/** All that a card depends on: what is asked, and who answers (a new build may answer otherwise). */
export const cardKey = (question: unknown): Promise<string> =>
  sha256Hex(new TextEncoder().encode(JSON.stringify([import.meta.url, question])).buffer);

export async function keptCard(key: string): Promise<Card | null> {
  try {
    const row = await table().get(key);
    if (!row) return null;
    void table().update(key, { used: Date.now() });
    return { ...row, picture: await createImageBitmap(row.picture) };
  } catch (e) {
    console.warn('A kept card could not be read, it is rendered again:', e);
    return null;
  }
}
export async function keepCard(key: string, { w, h, rgba, readings }: RenderReply): Promise<void> {
  try {
    const canvas = new OffscreenCanvas(w, h);
    canvas.getContext('2d')!.putImageData(new ImageData(rgba, w, h), 0, 0);
    const picture = await canvas.convertToBlob({ type: 'image/webp', quality: 0.92 });
    await table().put({ key, used: Date.now(), picture, w, h, readings: [...(readings ?? [])] });
    const over = (await table().count()) - MOST;
    if (over > 0) await table().bulkDelete(await table().orderBy('used').limit(over).primaryKeys());
  } catch (e) {
    console.warn('A card could not be kept:', e);
  }
}
