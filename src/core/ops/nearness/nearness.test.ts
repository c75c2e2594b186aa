import { opContract } from '../../../../testkit/opContract';
import { resolveEncoding } from '../../color/encodings';
import { plainContext } from '../../op/contract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 2e-3,
  twinReason: 'cube roots by exp2 and log2 of float32 under a fall of a few thousandths of OKLab',
  contexts: [plainContext, { ...plainContext, encoding: resolveEncoding('linear2020') }],
});
