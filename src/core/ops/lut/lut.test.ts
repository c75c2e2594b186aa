import { opContract } from '../../../../testkit/opContract';
import op from './index';
import { context, vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 4e-6, twinReason: 'the place in the table in float32', contexts: [context] });
