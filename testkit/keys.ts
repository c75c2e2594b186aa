/** Keys told by centre, whole width and one fade, as tests like to think of them. */
type Around = readonly [centre: number, width: number, fade?: number];
export function around(limits: { hue?: Around; sat?: Around; luma?: Around }): Record<string, number> {
  const out: Record<string, number> = {};
  for (const [name, [centre, width, fade]] of Object.entries(limits)) {
    const unit = name === 'hue' ? 'Deg' : 'Pct';
    out[`${name}From${unit}`] = centre - width / 2;
    out[`${name}To${unit}`] = centre + width / 2;
    if (fade !== undefined) out[`${name}FadeFrom${unit}`] = out[`${name}FadeTo${unit}`] = fade;
  }
  return out;
}
