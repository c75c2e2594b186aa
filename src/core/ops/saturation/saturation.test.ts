import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 1.5e-6,
  twinReason: 'float32 products where the kernel multiplies in float64',
});
