/** What a tool on the picture is: how the hand is drawn meanwhile, and what it means when it is done. */
import type { OpTerm } from '../../../core/graph/plan';
import type { DrawnBox } from '../../../core/op/contract';
import type { CorrectionRecord, MediaRecord, ShotRecord } from '../../../document/records';

export interface Point {
  x: number;
  y: number;
}
/** What the hand did, in picture pixels. */
export interface Hand {
  shot: ShotRecord;
  media: MediaRecord;
  corr: CorrectionRecord | null;
  points: readonly Point[];
  /** Corners of what was drawn, in order of their size. */
  box: DrawnBox;
  /** Nothing was drawn: a press at one place. */
  isClick: boolean;
  /** Screen pixels of one picture pixel. */
  scale: number;
}
export interface Tool {
  hint: string | (() => string);
  /** A stroke, a box or an ellipse in it, corners one by one, a straight line, or a place. */
  draws: 'stroke' | 'box' | 'ellipse' | 'corners' | 'line' | 'place';
  /**
   * Called while the hand moves, one call at a time, with all that it did so far: what it would make, as a preview (see
   * live.ts); null where there is nothing to show.
   */
  during?(hand: Hand): Promise<OpTerm | null>;
  /**
   * Called when the hand rests over the picture and has not begun: what it may want next can be begun. What it answers
   * with is called once the hand rests elsewhere, or has put the tool away.
   */
  rests?(hand: Hand): () => void;
  /**
   * Called when the hand is done. What takes time is asked for first; the document is changed in one go afterwards,
   * so that no gesture stays open meanwhile.
   */
  finish(hand: Hand): void | Promise<void>;
}
