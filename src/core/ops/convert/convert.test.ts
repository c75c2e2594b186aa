import { opContract } from '../../../../testkit/opContract';
import { all } from '../../../../testkit/contexts';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 3e-3,
  twinReason: 'float32 sums that cancel near black, then a power of 1/2.4: 1e-7 of light there is 1e-3 of signal',
  contexts: all,
  infinityIsOdd: true,
});
