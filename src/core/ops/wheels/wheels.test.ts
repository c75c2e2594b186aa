import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 8e-6,
  twinReason: 'power by polynomial exp2 and log2 in float32, over -1..2 and 1/gamma 0.5..2',
});
