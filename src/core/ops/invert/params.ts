import { bool } from '../../op/params';

export const params = {
  invert: bool({ default: false, label: 'Invert', doc: 'What is in is out, and the other way round.' }),
};
