import { opContract } from '../../../../testkit/opContract';
import { all } from '../../../../testkit/contexts';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 8e-6,
  twinReason: 'power by polynomial exp2 and log2 in float32',
  contexts: all,
});
