import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 2e-3, twinReason: 'float32 offsets of up to 4096 px over a one-pixel fall' });
