import { opContract } from '../../../../testkit/opContract';
import { all } from '../../../../testkit/contexts';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 1.5e-4,
  twinReason: 'powers and logarithms by polynomials in float32, over all encodings; PQ raises to 78.84',
  contexts: all,
  odd: { mired: 20, how: 'even' },
  infinityIsOdd: true,
});
