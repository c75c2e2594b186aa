/** Numbered files as frames. */
export interface Run {
  /** What their names share: `name_[0001-0072].png`. */
  title: string;
  /** Names in the order of their numbers. */
  names: string[];
  /** Numbers that are missing between the first and the last, in words. */
  gaps: string;
  /** Names that do not belong to it. */
  odd: string[];
}
const pattern = /^(.*?)(\d+)(\.[^.]+)$/;
/** The largest run of names that differ in their last number alone. Null where there is none of two. */
export function runOf(names: readonly string[]): Run | null {
  const runs = new Map<string, { n: number; digits: string; name: string }[]>();
  for (const name of names) {
    const m = pattern.exec(name);
    if (!m) continue;
    const key = `${m[1]}\0${m[3]!.toLowerCase()}`;
    runs.set(key, [...(runs.get(key) ?? []), { n: Number(m[2]), digits: m[2]!, name }]);
  }
  const [key, run] = [...runs].sort(([, a], [, b]) => b.length - a.length)[0] ?? [];
  if (!key || !run || run.length < 2) return null;
  run.sort((a, b) => a.n - b.n || (a.name < b.name ? -1 : 1));
  const missing: [number, number][] = [];
  for (let i = 1; i < run.length; i++)
    if (run[i]!.n > run[i - 1]!.n + 1) missing.push([run[i - 1]!.n + 1, run[i]!.n - 1]);
  const [stem, end] = key.split('\0') as [string, string];
  const inside = new Set(run.map((x) => x.name));
  return {
    title: `${stem}[${run[0]!.digits}-${run.at(-1)!.digits}]${end}`,
    names: run.map((x) => x.name),
    gaps: missing.map(([a, b]) => (a === b ? `${a}` : `${a} to ${b}`)).join(', '),
    odd: names.filter((n) => !inside.has(n)),
  };
}
