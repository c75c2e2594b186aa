import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 1e-5, twinReason: 'power by polynomial exp2 and log2 in float32' });
