import { choice, nameOf } from '../../op/params';

export const params = {
  table: nameOf({ label: 'Table', doc: 'The lookup table, by its id in the project.' }),
  how: choice({
    default: 'tetrahedral',
    options: { tetrahedral: 'tetrahedral', trilinear: 'trilinear' },
    label: 'Between the points',
    doc: 'How a 3D table is read between its points; a 1D table is always read straight.',
  }),
};
