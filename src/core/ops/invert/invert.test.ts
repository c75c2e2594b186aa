import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 0, twinReason: 'one subtraction of float32 in both' });
