import { opContract } from '../../../../testkit/opContract';
import { all } from '../../../../testkit/contexts';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 6e-5,
  twinReason: 'powers and logarithms by polynomials in float32, over all encodings; PQ raises to 78.84',
  contexts: all,
  odd: { stops: 0.5 },
  infinityIsOdd: true,
});
