/** Where an operation may stand, for tests. */
import { encodingIds, resolveEncoding } from '../src/core/color/encodings';
import type { EncodingId } from '../src/core/color/encodings';
import { plainContext } from '../src/core/op/contract';
import type { OpContext } from '../src/core/op/contract';

export const at = (id: EncodingId): OpContext => ({ ...plainContext, encoding: resolveEncoding(id), source: resolveEncoding(id) });
/** Every known encoding, sRGB first. */
export const all: readonly OpContext[] = encodingIds.map(at);
