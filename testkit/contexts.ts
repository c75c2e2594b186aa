/** Where an operation may stand, for tests. */
import { encodingIds, resolveEncoding } from '../src/core/color/encodings';
import type { EncodingId } from '../src/core/color/encodings';
import { plainContext } from '../src/core/op/contract';
import type { OpContext } from '../src/core/op/contract';

export const at = (id: EncodingId): OpContext => ({
  ...plainContext,
  encoding: resolveEncoding(id),
  source: resolveEncoding(id),
});
/**
 * Every known curve and set of primaries, sRGB first. Linear light of P3 and BT.2020 runs through the code of the three
 * linear ones here and is left out, since it would only thin out the random draws. Near black a curve such as PQ has no
 * largest slope, so that the twins' tolerances hold for what is drawn, not for every colour: in other draws 2.9e-4
 * (temperature) and 3.4e-3 (convert) of signal were seen there.
 */
export const all: readonly OpContext[] = encodingIds.filter((id) => id !== 'linearP3' && id !== 'linear2020').map(at);
