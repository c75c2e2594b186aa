import { opContract } from '../../../../testkit/opContract';
import { all } from '../../../../testkit/contexts';
import op from './index';
import { vectors } from './vectors';

opContract(op, vectors, { twinTolerance: 3e-3, twinReason: 'curves by tables: where a channel a thousand times brighter nearly cancels in another, its 1e-5 counts in a log signal', contexts: all, odd: { mired: 20, how: 'even' }, infinityIsOdd: true });
