import type { Cube } from '../src/core/formats/cube';

/** Every colour to itself. */
export function identityCube(size: number): Cube {
  const data = new Float32Array(3 * size ** 3);
  for (let i = 0; i < size ** 3; i++)
    data.set(
      [(i % size) / (size - 1), (Math.floor(i / size) % size) / (size - 1), Math.floor(i / size ** 2) / (size - 1)],
      3 * i,
    );
  return { kind: '3d', title: 'identity', size, domainMin: [0, 0, 0], domainMax: [1, 1, 1], data };
}
