import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 2e-5,
  twinReason: 'luma over the softness in float32: at the narrowest softness, 1 %, a weight moves by 2e-5',
});
