/** Follows an outline point by point: where all of it goes by what lies in it, and how it bends by its colours. */
import { Follower } from './follow';
import type { ColoursAt, Followed } from './follow';
import type { Grey } from './image';
import { stepFor } from './inside';
import type { Point } from './points';
import { FINE, Silhouette } from './silhouette';
import type { Curve } from './silhouette';

/** With how far each point goes by itself before the map, x and y in turn, in pixels of the first frame. */
export interface FollowedOutline extends Followed {
  own: readonly number[];
}
export class OutlineFollower {
  private readonly whole: Follower;
  private readonly silhouette: Silhouette;
  private readonly squares: number;
  private own: readonly number[];

  /**
   * @param points in pixels from the left top corner of the picture
   * @throws RangeError where nothing inside could be told apart from its neighbours, or its colours from those about it
   */
  constructor(first: Grey, points: readonly Point[], curve: Curve, colours: ColoursAt) {
    const line = curve(points);
    this.squares = stepFor(line, FINE);
    this.silhouette = new Silhouette(colours(this.squares), points, curve);
    if (!this.silhouette.tells)
      throw new RangeError(
        'What lies about it has the same colours, so its outline would not be found again: follow its position instead',
      );
    // Turns and sizes are left to its points: a thing that turns is no flat one.
    this.whole = new Follower(first, line, 'position', colours);
    this.own = points.flatMap(() => [0, 0]);
  }
  /** The next frame, in either direction of time. Where it is lost it keeps the form that it had. */
  step(frame: Grey, colours: ColoursAt): FollowedOutline {
    const found = this.whole.step(frame, colours);
    if (found.lost) return { ...found, own: this.own };
    const { own, quality } = this.silhouette.step(colours(this.squares), found.h);
    this.own = own.flatMap((p) => [...p]);
    return { ...found, own: this.own, quality };
  }
}
