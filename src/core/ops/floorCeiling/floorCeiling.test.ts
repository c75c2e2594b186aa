import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 1e-4, twinReason: 'a ceiling next to the floor multiplies float32 rounding' });
