/** TIFF 6.0 by geotiff: 8 and 16 bit, half and float; LZW, deflate, tiles, planes apart. */
import { fromArrayBuffer } from 'geotiff';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw, Samples } from '../picture';
import { checkUnpacked, SMALL_PACK } from '../unpack';

export async function tiff(bytes: Uint8Array): Promise<Raw> {
  const refuse = (what: string, remedy: string): never => {
    throw new MediaError('unsupported', what, remedy);
  };
  try {
    const file = await fromArrayBuffer(bytes.slice().buffer as ArrayBuffer);
    const image = await file.getImage(0);
    const [width, height] = [image.getWidth(), image.getHeight()];
    checkSize(width, height);
    const tag = async (name: string): Promise<unknown> => {
      const d = image.fileDirectory as unknown as { hasTag(n: string): boolean; loadValue(n: string): Promise<unknown> };
      return d.hasTag(name) ? d.loadValue(name) : undefined;
    };
    const photometric = Number((await tag('PhotometricInterpretation')) ?? 2);
    const samples = image.getSamplesPerPixel();
    const depths = Array.from({ length: samples }, (_, i) => image.getBitsPerSample(i));
    const format = image.getSampleFormat(0);
    if (photometric === 5) refuse('it is a CMYK TIFF', 'Convert it to RGB and import it again.');
    if (photometric === 3) refuse('it is a TIFF with a palette', 'Convert it to RGB and import it again.');
    if (photometric !== 0 && photometric !== 1 && photometric !== 2 && photometric !== 6) refuse(`its colours are of a kind (photometric ${photometric}) that is not read`, 'Save it as RGB.');
    if (depths.some((d) => d !== depths[0])) refuse('its channels have different numbers of bits', 'Save it with equal channels.');
    const bits = depths[0]!;
    const float = format === 3;
    if (!(float ? bits === 16 || bits === 32 : format === 1 && (bits === 8 || bits === 16))) refuse(`its samples are ${float ? 'floating point' : format === 2 ? 'signed' : ''} of ${bits} bits`, 'Save it with 8 or 16 bits, or half or single floating point.');
    if (samples > 8) refuse(`it has ${samples} channels`, 'Save it as RGB.');
    // Deflated strips and tiles must not hold more than their share of the picture.
    const packing = Number((await tag('Compression')) ?? 1);
    if (packing === 8 || packing === 32946)
      for (const kind of ['Strip', 'Tile']) {
        const [at, size] = [(await tag(`${kind}Offsets`)) as ArrayLike<number> | undefined, (await tag(`${kind}ByteCounts`)) as ArrayLike<number> | undefined];
        const most = 1.02 * (bits / 8) * samples * (kind === 'Tile' ? image.getTileWidth() * image.getTileHeight() : width * height) + 1024;
        for (let i = 0; i < (at?.length ?? 0); i++) if ((size?.[i] ?? 0) > SMALL_PACK) await checkUnpacked([bytes.subarray(at![i]!, at![i]! + size![i]!)], most);
      }
    const raster = (await image.readRasters({ interleave: true })) as unknown as Samples & { length: number };
    const extra = (await tag('ExtraSamples')) as ArrayLike<number> | undefined;
    const colours = photometric === 2 || photometric === 6 ? 3 : 1;
    if (samples < colours) refuse('it has fewer channels than its colours need', 'Save it as RGB.');
    const hasAlpha = samples > colours && extra !== undefined && (extra[0] === 1 || extra[0] === 2);
    const channels = (colours + (hasAlpha ? 1 : 0)) as Raw['channels'];
    const n = width * height;
    if (raster.length < n * samples) throw new Error('fewer samples than its size asks for');
    const Kind = float ? Float32Array : bits === 16 ? Uint16Array : Uint8Array;
    let data: Samples = raster instanceof Kind && samples === channels ? raster : new Kind(n * channels);
    if (data !== raster) for (let i = 0; i < n; i++) for (let c = 0; c < channels; c++) data[i * channels + c] = raster[i * samples + c]!;
    if (photometric === 0) {
      const max = float ? 1 : 2 ** bits - 1;
      data = data.map((v, i) => (i % channels === 0 ? max - v : v)) as Samples;
    }
    const notes: string[] = [];
    if (samples > channels) notes.push(`${samples - channels} more channel${samples - channels > 1 ? 's are' : ' is'} left out`);
    const pages = await file.getImageCount();
    if (pages > 1) notes.push(`the first of ${pages} pages is taken`);
    const icc = (await tag('ICCProfile')) as ArrayLike<number> | undefined;
    return {
      width, height, bits: float ? 32 : (bits as 8 | 16), format: 'tiff', channels, data, notes,
      encoding: float ? 'linear709' : 'srgb', orientation: Number((await tag('Orientation')) ?? 1), ...(icc ? { icc: Uint8Array.from(icc) } : {}), ...(extra?.[0] === 1 ? { premultiplied: true } : {}),
    };
  } catch (e) {
    if (e instanceof MediaError) throw e;
    throw damaged('TIFF', e);
  }
}
