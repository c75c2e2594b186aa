/** TIFF 6.0 by geotiff: 8 and 16 bit, half and float; LZW, deflate, tiles, planes apart. */
import { fromArrayBuffer } from 'geotiff';
import { checkSize, damaged, MediaError } from '../picture';
import type { Raw, Samples } from '../picture';
import { checkUnpacked, lzwLength, packBitsLength } from '../unpack';

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
      const d = image.fileDirectory as unknown as {
        hasTag(n: string): boolean;
        loadValue(n: string): Promise<unknown>;
      };
      return d.hasTag(name) ? d.loadValue(name) : undefined;
    };
    const photometric = Number((await tag('PhotometricInterpretation')) ?? 2);
    const samples = image.getSamplesPerPixel();
    const depths = Array.from({ length: samples }, (_, i) => image.getBitsPerSample(i));
    const format = image.getSampleFormat(0);
    const packing = Number((await tag('Compression')) ?? 1);
    if (packing >= 2 && packing <= 4)
      refuse('it is a fax: black and white of 1 bit', 'Save it as grey or RGB of 8 bits.');
    if (![1, 5, 8, 32773, 32946].includes(packing))
      refuse(`its compression (${packing}) is not read`, 'Save it with LZW, deflate or without compression.');
    // Where the tag is missing its default is 1.
    if (depths.every((d) => d === 1 || !d))
      refuse('it is a black-and-white TIFF of 1 bit', 'Save it as grey or RGB of 8 bits.');
    if (photometric === 6)
      refuse('its colours are stored as Y, Cb and Cr', 'Save it as RGB: without JPEG compression, for most programs.');
    if (photometric === 8 || photometric === 9)
      refuse('its colours are stored as L*a*b*', 'Convert it to RGB and import it again.');
    if (photometric === 5) refuse('it is a CMYK TIFF', 'Convert it to RGB and import it again.');
    if (photometric === 3) refuse('it is a TIFF with a palette', 'Convert it to RGB and import it again.');
    if (photometric !== 0 && photometric !== 1 && photometric !== 2)
      refuse(`its colours are of a kind (photometric ${photometric}) that is not read`, 'Save it as RGB.');
    if (depths.some((d) => d !== depths[0]))
      refuse('its channels have different numbers of bits', 'Save it with equal channels.');
    const bits = depths[0]!;
    const float = format === 3;
    if (!(float ? bits === 16 || bits === 32 : format === 1 && (bits === 8 || bits === 16)))
      refuse(
        `its samples are ` +
          `${float ? 'floating point numbers' : format === 2 ? 'signed whole numbers' : 'whole numbers'} ` +
          `of ${bits} bits`,
        'Save it with 8 or 16 bits, or half or single floating point.',
      );
    if (samples > 8) refuse(`it has ${samples} channels`, 'Save it as RGB.');
    // Every strip and tile must hold its share of the picture, no more and no less: decoders fill up what is missing.
    const kind = image.isTiled ? 'Tile' : 'Strip';
    const at = (await tag(`${kind}Offsets`)) as ArrayLike<number> | undefined;
    const size = (await tag(`${kind}ByteCounts`)) as ArrayLike<number> | undefined;
    const apart = Number((await tag('PlanarConfiguration')) ?? 1) === 2;
    const rows = image.isTiled
      ? image.getTileHeight()
      : Math.min(height, Number((await tag('RowsPerStrip')) ?? height));
    const across = image.isTiled ? Math.ceil(width / image.getTileWidth()) : 1;
    const down = Math.ceil(height / rows);
    const need = across * down * (apart ? samples : 1);
    if (!(rows >= 1) || !at || !size || at.length < need || size.length < need)
      throw new Error(`only ${Math.min(at?.length ?? 0, size?.length ?? 0)} of ${need} pieces are there`);
    for (let i = 0; i < need; i++) {
      if (at[i]! + size[i]! > bytes.length || !(size[i]! > 0))
        throw new Error(`piece ${i} of ${need} is missing or cut off`);
      const y = Math.floor((i % (across * down)) / across);
      const lines = image.isTiled ? rows : Math.min(rows, height - y * rows);
      const wide = image.isTiled ? image.getTileWidth() : width;
      const want = lines * wide * (bits / 8) * (apart ? 1 : samples);
      const packed = bytes.subarray(at[i]!, at[i]! + size[i]!);
      const got =
        packing === 1
          ? packed.length
          : packing === 5
            ? lzwLength(packed)
            : packing === 32773
              ? packBitsLength(packed)
              : await checkUnpacked([packed], 1.02 * want + 1024);
      if (got < want) throw new Error(`piece ${i} of ${need} gives ${got} of ${want} bytes`);
    }
    const raster = (await image.readRasters({ interleave: true })) as unknown as Samples & { length: number };
    const extra = (await tag('ExtraSamples')) as ArrayLike<number> | undefined;
    const colours = photometric === 2 ? 3 : 1;
    if (samples < colours) refuse('it has fewer channels than its colours need', 'Save it as RGB.');
    const hasAlpha = samples > colours && extra !== undefined && (extra[0] === 1 || extra[0] === 2);
    const channels = (colours + (hasAlpha ? 1 : 0)) as Raw['channels'];
    const n = width * height;
    if (raster.length < n * samples) throw new Error('fewer samples than its size asks for');
    const Kind = float ? Float32Array : bits === 16 ? Uint16Array : Uint8Array;
    let data: Samples = raster instanceof Kind && samples === channels ? raster : new Kind(n * channels);
    if (data !== raster)
      for (let i = 0; i < n; i++) for (let c = 0; c < channels; c++) data[i * channels + c] = raster[i * samples + c]!;
    if (photometric === 0) {
      const max = float ? 1 : 2 ** bits - 1;
      data = data.map((v, i) => (i % channels === 0 ? max - v : v)) as Samples;
    }
    const notes: string[] = [];
    if (samples > channels)
      notes.push(`${samples - channels} more channel${samples - channels > 1 ? 's are' : ' is'} left out`);
    const pages = await file.getImageCount();
    if (pages > 1) notes.push(`the first of ${pages} pages is taken`);
    // Pixels a unit of length; a rational is two numbers.
    const density = (v: unknown): number => {
      const [a, b = 1] = typeof v === 'number' ? [v] : Array.from((v ?? []) as ArrayLike<number>);
      return a !== undefined && a > 0 && b > 0 ? a / b : NaN;
    };
    const aspect = density(await tag('YResolution')) / density(await tag('XResolution'));
    const icc = (await tag('ICC Profile')) as ArrayLike<number> | undefined;
    return {
      width,
      height,
      bits: float ? 32 : (bits as 8 | 16),
      format: 'tiff',
      channels,
      data,
      notes,
      encoding: float ? 'linear709' : 'srgb',
      turns: [Number((await tag('Orientation')) ?? 1)],
      ...(aspect > 0 ? { aspect } : {}),
      ...(icc ? { icc: Uint8Array.from(icc) } : {}),
      ...(extra?.[0] === 1 ? { premultiplied: true } : {}),
    };
  } catch (e) {
    if (e instanceof MediaError) throw e;
    throw damaged('TIFF', e);
  }
}
