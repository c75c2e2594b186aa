import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, {
  twinTolerance: 3e-4,
  twinReason: 'the place in the table in float32: two steep curves in a row turn one unit of it into this',
  odd: { red: [0, 0, 0.5, 0.7, 1, 1] },
  infinityIsOdd: true,
});
