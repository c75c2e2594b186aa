import { list } from '../../op/params';

const colour = (label: string, doc: string, of: number[]) =>
  list({
    default: of,
    min: -2,
    max: 2,
    least: 3,
    most: 3,
    label,
    doc: `${doc} OKLab: lightness (0 black, 1 white), a, b.`,
  });
export const params = {
  from: colour('From', 'Mean colour of what is recoloured.', [0.6, 0, 0]),
  to: colour('To', 'Colour that the mean should become.', [0.6, 0, 0]),
  trim: colour(
    'Trim',
    'Added to the colour aimed at, so that the mean arrives although folds and highlights are drawn into the range.',
    [0, 0, 0],
  ),
};
