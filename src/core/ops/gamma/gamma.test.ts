import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

// What is no number is cut to 0 or 1 before the power: with a plain exponent both kernels give the same.
opContract(op, vectors, { twinTolerance: 4e-6, twinReason: 'powers by exp2 and log2 of float32', odd: { gamma: 2 } });
