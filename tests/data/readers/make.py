#!/usr/bin/env python3
"""Small pictures whose meaning lies in a tag, and what independent programs make of them.

Run once on Debian 12 with: python3-pil 9.4.0, python3-numpy 1.24.2, python3-openimageio 2.4.7.1, liblcms2-utils 2.14
(transicc), libjpeg-turbo-progs 2.1.5 (cjpeg, djpeg), webp 1.2.4 (cwebp, dwebp), libavif-bin 0.11.1 (avifenc).
Writes the files and expected.json beside itself: file -> width, height, rgb (float, by rows), alpha, tolerance, by.
Constants: SMPTE ST 2084 (PQ), IEC 61966-2-1 (sRGB), Bradford and primaries as in ICC.1 and ITU-T H.273.
"""
import json, os, struct, subprocess, tempfile, zlib
import numpy as np
from PIL import Image
import OpenImageIO as oiio

HERE = os.path.dirname(os.path.abspath(__file__))
W, H = 16, 12
y, x = np.mgrid[0:H, 0:W]
U8 = np.stack([40 + 10 * x, 200 - 12 * y, 60 + 6 * x + 3 * y], -1).astype(np.uint8)
U16 = (U8.astype(np.uint16) * 257 + ((x * 31 + y * 17) % 200)[..., None]).astype(np.uint16)
F = U16.astype(np.float64) / 65535
ALPHA = np.where((x - 8) ** 2 + (y - 6) ** 2 < 20, 255, (x * 15) % 256).astype(np.uint8)
expected = {}


def path(name):
    return os.path.join(HERE, name)


def put(name, rgb, by, tolerance, alpha=None, encoding=None):
    rgb = np.asarray(rgb, np.float64)
    expected[name] = {
        'width': int(rgb.shape[1]), 'height': int(rgb.shape[0]), 'by': by, 'tolerance': tolerance,
        'rgb': [round(float(v), 7) for v in rgb.reshape(-1)],
        **({'alpha': [round(float(v), 7) for v in np.asarray(alpha, np.float64).reshape(-1)]} if alpha is not None else {}),
        **({'encoding': encoding} if encoding else {}),
    }


def refuse(name, words):
    expected[name] = {'refused': words}


def run(*args):
    subprocess.run(args, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


# --- ICC profiles, written byte by byte (ICC.1:2022) ---
def s15(v):
    return struct.pack('>i', int(round(v * 65536)))


def xyz(v):
    return b'XYZ \0\0\0\0' + b''.join(s15(c) for c in v)


def gamma(g):
    return b'curv\0\0\0\0' + struct.pack('>IHH', 1, int(round(g * 256)), 0)


def desc(t):
    return b'desc\0\0\0\0' + struct.pack('>I', len(t) + 1) + t.encode() + b'\0' + b'\0' * 79


def icc(tags, space, pcs):
    tags = [('desc', desc('Readers test')), ('wtpt', xyz([0.9642, 1, 0.8249])), ('cprt', b'text\0\0\0\0\0\0\0\0')] + tags
    table, body = struct.pack('>I', len(tags)), b''
    start = 128 + 4 + 12 * len(tags)
    for sig, data in tags:
        table += sig.encode() + struct.pack('>II', start + len(body), len(data))
        body += data + b'\0' * (-len(data) % 4)
    head = bytearray(128)
    head[0:4] = struct.pack('>I', start + len(body))
    head[8:12] = bytes([2, 0x20, 0, 0])
    head[12:16], head[16:20], head[20:24], head[36:40] = b'mntr', space.encode(), pcs.encode(), b'acsp'
    head[68:80] = s15(0.9642) + s15(1) + s15(0.8249)
    return bytes(head) + table + body


WIDE = [('rXYZ', xyz([0.60974, 0.31111, 0.01947])), ('gXYZ', xyz([0.20528, 0.62567, 0.06087])),
        ('bXYZ', xyz([0.14919, 0.06322, 0.74457]))] + [(t, gamma(2.2)) for t in ('rTRC', 'gTRC', 'bTRC')]


def lut16():
    """RGB -> Lab (version 2 codes): a slightly turned and dulled rendering, no matrix could be it."""
    n = 9
    out = b'mft2\0\0\0\0' + bytes([3, 3, n, 0]) + b''.join(s15(v) for v in [1, 0, 0, 0, 1, 0, 0, 0, 1])
    out += struct.pack('>HH', 2, 2) + struct.pack('>HH', 0, 65535) * 3
    for r in range(n):
        for g in range(n):
            for b in range(n):
                R, G, B = r / (n - 1), g / (n - 1), b / (n - 1)
                L = 100 * (0.3 * R + 0.6 * G + 0.1 * B) ** 0.9
                a = 60 * (R - G) + 12 * (R - 0.5) * (B - 0.5)
                bb = 50 * (0.5 * (R + G) - B) * (1 - 0.2 * R)
                out += struct.pack('>HHH', int(round(L * 652.8)), int(round((a + 128) * 256)), int(round((bb + 128) * 256)))
    return out + struct.pack('>HH', 0, 65535) * 3


PROFILES = {
    'matrix': icc(WIDE, 'RGB ', 'XYZ '),
    'tables-beside-matrix': icc(WIDE + [('A2B0', lut16())], 'RGB ', 'Lab '),
    'tables-only': icc([('A2B0', lut16())], 'RGB ', 'Lab '),
    'grey-lab': icc([('kTRC', gamma(1.3))], 'GRAY', 'Lab '),
}


def tiff16(name, data, profile=None, extra=()):
    """Uncompressed little-endian TIFF 6.0 of 16 bits, grey or RGB."""
    h, w = data.shape[:2]
    n = 1 if data.ndim == 2 else 3
    pixels = data.astype('<u2').tobytes()
    entries = [(256, 4, 1, w), (257, 4, 1, h), (259, 3, 1, 1), (262, 3, 1, 1 if n == 1 else 2), (273, 4, 1, 8),
               (277, 3, 1, n), (278, 4, 1, h), (279, 4, 1, len(pixels))] + list(extra)
    blob = b''
    at = 8 + len(pixels)

    def later(b):
        nonlocal blob
        o = at + len(blob)
        blob += b + b'\0' * (len(b) % 2)
        return o
    entries.append((258, 3, n, 16 if n == 1 else later(struct.pack('<HHH', 16, 16, 16))))
    if profile:
        entries.append((34675, 7, len(profile), later(profile)))
    entries.sort()
    ifd = struct.pack('<H', len(entries))
    for tag, kind, count, value in entries:
        ifd += struct.pack('<HHI', tag, kind, count) + (struct.pack('<HH', value, 0) if kind == 3 and count == 1 else struct.pack('<I', value))
    with open(path(name), 'wb') as f:
        f.write(b'II*\0' + struct.pack('<I', at + len(blob)) + pixels + blob + ifd + b'\0\0\0\0')


def by_transicc(kind, values):
    """Pixel by pixel in floating point, without the library's shortcuts of 16 bits."""
    p = os.path.join(tempfile.gettempdir(), 'p.icc')
    open(p, 'wb').write(PROFILES[kind])
    lines = '\n'.join(' '.join(f'{v * 255:.8f}' for v in np.atleast_1d(px)) for px in values.reshape(H * W, -1)) + '\n'
    r = subprocess.run(['transicc', '-n', '-t', '1', '-c', '0', '-i', p, '-o', '*sRGB'], input=lines.encode(), check=True,
                       stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
    out = [[float(v) for v in l.split()] for l in r.stdout.decode().split('\n') if l.strip()]
    return np.array(out).reshape(H, W, 3) / 255


for kind in ('matrix', 'tables-beside-matrix', 'tables-only'):
    name = f'icc-{kind}.tif'
    tiff16(name, U16, PROFILES[kind])
    put(name, by_transicc(kind, F), 'LittleCMS 2.14 (transicc), relative colorimetric', 2e-5, encoding='srgb')
GREY = U16[..., 0]
tiff16('icc-grey-lab.tif', GREY, PROFILES['grey-lab'])
put('icc-grey-lab.tif', by_transicc('grey-lab', GREY / 65535), 'LittleCMS 2.14 (transicc), relative colorimetric', 2e-5, encoding='srgb')


# --- PNG chunks ---
def chunk(t, d):
    return struct.pack('>I', len(d)) + t + d + struct.pack('>I', zlib.crc32(t + d) & 0xffffffff)


def png(name, data, chunks=(), colour=None):
    h, w = data.shape[:2]
    depth = 16 if data.dtype == np.uint16 else 8
    colour = (0 if data.ndim == 2 else 2) if colour is None else colour
    rows = data.astype('>u2' if depth == 16 else np.uint8)
    raw = b''.join(b'\0' + rows[r].tobytes() for r in range(h))
    with open(path(name), 'wb') as f:
        f.write(b'\x89PNG\r\n\x1a\n' + chunk(b'IHDR', struct.pack('>IIBBBBB', w, h, depth, colour, 0, 0, 0)))
        for t, d in chunks:
            f.write(chunk(t, d))
        f.write(chunk(b'IDAT', zlib.compress(raw)) + chunk(b'IEND', b''))


def m_xyz(p):
    (rx, ry), (gx, gy), (bx, by), (wx, wy) = p
    m = np.array([[rx, gx, bx], [ry, gy, by], [1 - rx - ry, 1 - gx - gy, 1 - bx - by]])
    return m * np.linalg.solve(m, np.array([wx / wy, 1, (1 - wx - wy) / wy]))


D65 = (0.3127, 0.329)
P709 = ((0.64, 0.33), (0.3, 0.6), (0.15, 0.06), D65)
P3 = ((0.68, 0.32), (0.265, 0.69), (0.15, 0.06), D65)
P2020 = ((0.708, 0.292), (0.17, 0.797), (0.131, 0.046), D65)
BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])


def between(a, b):
    wa, wb = [np.array([p[3][0] / p[3][1], 1, (1 - p[3][0] - p[3][1]) / p[3][1]]) for p in (a, b)]
    k = (BRADFORD @ wb) / (BRADFORD @ wa)
    return np.linalg.inv(m_xyz(b)) @ np.linalg.inv(BRADFORD) @ np.diag(k) @ BRADFORD @ m_xyz(a)


def pq_decode(v):
    m1, m2, c1, c2, c3 = 2610 / 16384, 2523 / 32, 3424 / 4096, 2413 / 128, 2392 / 128
    p = np.maximum(v, 0) ** (1 / m2)
    return (np.maximum(p - c1, 0) / (c2 - c3 * p)) ** (1 / m1)


def pq_encode(v):
    m1, m2, c1, c2, c3 = 2610 / 16384, 2523 / 32, 3424 / 4096, 2413 / 128, 2392 / 128
    p = np.maximum(v, 0) ** m1
    return ((c1 + c2 * p) / (1 + c3 * p)) ** m2


def srgb_encode(v):
    return np.sign(v) * np.where(abs(v) <= 0.0031308, 12.92 * abs(v), 1.055 * np.maximum(abs(v), 1e-12) ** (1 / 2.4) - 0.055)


SPEC = 'numpy, by the published formulas'
png('cicp-p3-pq.png', U16, [(b'cICP', bytes([12, 16, 0, 1]))])
put('cicp-p3-pq.png', pq_encode(pq_decode(F) @ between(P3, P2020).T), SPEC, 2e-6, encoding='pq')
png('cicp-p3-srgb.png', U16, [(b'cICP', bytes([12, 13, 0, 1]))])
put('cicp-p3-srgb.png', F, 'the file itself', 0, encoding='p3')
png('cicp-narrow.png', U16, [(b'cICP', bytes([1, 1, 0, 0]))])
put('cicp-narrow.png', (U16 / 256.0 - 16) / 219, SPEC, 1e-6, encoding='bt1886')
png('cicp-gamma28.png', U16, [(b'cICP', bytes([5, 5, 0, 1]))])
P470 = ((0.64, 0.33), (0.29, 0.6), (0.15, 0.06), D65)
put('cicp-gamma28.png', srgb_encode((F ** 2.8) @ between(P470, P709).T), SPEC, 2e-6, encoding='srgb')
png('gama-18.png', U16, [(b'gAMA', struct.pack('>I', 55556))])
put('gama-18.png', srgb_encode(F ** (1 / 0.55556)), SPEC, 2e-6, encoding='srgb')
png('gama-1.png', U16, [(b'gAMA', struct.pack('>I', 100000))])
put('gama-1.png', F, 'the file itself', 0, encoding='linear709')


def chrm(p):
    return struct.pack('>8I', *[int(round(v * 100000)) for c in (p[3], p[0], p[1], p[2]) for v in c])


ADOBE = ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06), D65)
png('gama-chrm.png', U16, [(b'gAMA', struct.pack('>I', 45455)), (b'cHRM', chrm(ADOBE))])
s = np.where(F <= 0.04045, F / 12.92, ((F + 0.055) / 1.055) ** 2.4)
put('gama-chrm.png', srgb_encode((F ** 2.2) @ between(ADOBE, P709).T), SPEC, 2e-4, encoding='srgb')
png('srgb-wins.png', U16, [(b'gAMA', struct.pack('>I', 55556)), (b'sRGB', b'\0')])
put('srgb-wins.png', F, 'the file itself', 0, encoding='srgb')
EXIF6 = b'MM\0*' + struct.pack('>IHHHIHHI', 8, 1, 0x112, 3, 1, 6, 0, 0)
png('exif-6.png', U8, [(b'eXIf', EXIF6)])
put('exif-6.png', np.rot90(U8, -1) / 255, 'numpy: a quarter clockwise', 0)
clear = U8[3, 5]
png('trns-rgb.png', U8, [(b'tRNS', struct.pack('>HHH', *[int(v) for v in clear]))])
rgba = np.asarray(Image.open(path('trns-rgb.png')).convert('RGBA'))
put('trns-rgb.png', rgba[..., :3] / 255, 'Pillow 9.4.0', 0, rgba[..., 3] / 255)
png('trns-grey.png', U8[..., 0], [(b'tRNS', struct.pack('>H', int(U8[0, 4, 0])))])
g = U8[..., 0]
put('trns-grey.png', np.stack([g] * 3, -1) / 255, SPEC, 0, np.where(g == g[0, 4], 0.0, 1.0))

# --- JPEG ---
ppm = os.path.join(tempfile.gettempdir(), 'a.ppm')
Image.fromarray(U8).save(ppm)
big = Image.fromarray(np.kron(U8, np.ones((3, 3, 1), np.uint8))[:31, :45])
bigppm = os.path.join(tempfile.gettempdir(), 'b.ppm')
big.save(bigppm)


def djpeg(name):
    out = os.path.join(tempfile.gettempdir(), 'o.ppm')
    run('djpeg', '-outfile', out, path(name))
    return np.asarray(Image.open(out).convert('RGB')) / 255


for name, args in {'jpeg-rgb.jpg': ['-rgb'], 'jpeg-420.jpg': ['-sample', '2x2'], 'jpeg-422.jpg': ['-sample', '2x1'],
                   'jpeg-progressive.jpg': ['-progressive'], 'jpeg-grey.jpg': ['-grayscale']}.items():
    run('cjpeg', '-quality', '90', *args, '-outfile', path(name), bigppm)
    put(name, djpeg(name), 'libjpeg-turbo 2.1.5 (djpeg)', 0)
# Pillow writes CMYK with the marker of Adobe.
Image.fromarray(U8).convert('CMYK').save(path('jpeg-cmyk.jpg'))
refuse('jpeg-cmyk.jpg', 'CMYK JPEG')

# --- WebP ---
rgba_png = os.path.join(tempfile.gettempdir(), 'a.png')
Image.fromarray(np.dstack([U8, ALPHA]), 'RGBA').save(rgba_png)
run('cwebp', '-q', '80', rgba_png, '-o', path('webp-lossy-alpha.webp'))
out = os.path.join(tempfile.gettempdir(), 'o.png')
run('dwebp', path('webp-lossy-alpha.webp'), '-o', out)
d = np.asarray(Image.open(out).convert('RGBA'))
put('webp-lossy-alpha.webp', d[..., :3] / 255, 'libwebp 1.2.4 (dwebp)', 0, d[..., 3] / 255)
b = bytearray(open(path('webp-lossy-alpha.webp'), 'rb').read())
b[20] &= ~16  # The header does not say that there is alpha; the chunk is there.
open(path('webp-alpha-unsaid.webp'), 'wb').write(b)
put('webp-alpha-unsaid.webp', d[..., :3] / 255, 'libwebp 1.2.4 (dwebp)', 0, d[..., 3] / 255)

# --- AVIF ---
lossless = ['--lossless', '--speed', '10']
plain = os.path.join(tempfile.gettempdir(), 'p.png')
Image.fromarray(U8).save(plain)
for name, args, want in [
    ('avif-irot1.avif', ['--irot', '1'], np.rot90(U8, 1)),
    ('avif-irot3.avif', ['--irot', '3'], np.rot90(U8, 3)),
    ('avif-imir0.avif', ['--imir', '0'], U8[::-1]),
    ('avif-imir1.avif', ['--imir', '1'], U8[:, ::-1]),
    ('avif-irot1-imir1.avif', ['--irot', '1', '--imir', '1'], np.rot90(U8, 1)[:, ::-1]),
    ('avif-crop.avif', ['--crop', '2,4,8,6'], U8[4:10, 2:10]),
    ('avif-crop-irot1.avif', ['--crop', '2,4,8,6', '--irot', '1'], np.rot90(U8[4:10, 2:10], 1)),
]:
    run('avifenc', *lossless, *args, plain, path(name))
    put(name, want / 255, 'numpy, as ISO/IEC 23008-12 says', 0)
run('avifenc', '--min', '0', '--max', '0', '-y', '444', '--range', 'limited', '--cicp', '1/13/1', plain, path('avif-narrow.avif'))
put('avif-narrow.avif', U8 / 255, 'the source: rounding of Y (0.58 codes), Cb (1.06) and of R, G, B (0.5)', 2.2 / 255, encoding='srgb')
run('avifenc', *lossless, '--cicp', '12/16/0', plain, path('avif-p3-pq.avif'))
put('avif-p3-pq.avif', pq_encode(pq_decode(U8 / 255) @ between(P3, P2020).T), SPEC, 2e-6, encoding='pq')


# --- OpenEXR ---
def exr(name, data, kinds=None, compression='zip', window=None, attributes=(), names=('R', 'G', 'B'), kind=oiio.HALF):
    h, w = data.shape[:2]
    spec = oiio.ImageSpec(w, h, data.shape[2], kind)
    spec.channelnames = names
    if kinds:
        spec.channelformats = kinds
    spec.attribute('compression', compression)
    for k, t, v in attributes:
        spec.attribute(k, t, v)
    if window:
        spec.x, spec.y, spec.full_x, spec.full_y, spec.full_width, spec.full_height = window
    o = oiio.ImageOutput.create(path(name))
    assert o.open(path(name), spec), o.geterror()
    assert o.write_image(data), o.geterror()
    o.close()


L = F.astype(np.float32)
HALF = L.astype(np.float16).astype(np.float64)
exr('exr-mixed-zip.exr', L, (oiio.FLOAT, oiio.HALF, oiio.FLOAT))
put('exr-mixed-zip.exr', np.stack([L[..., 0], HALF[..., 1], L[..., 2]], -1), 'OpenImageIO 2.4.7.1 wrote it', 1e-7, encoding='linear709')
exr('exr-mixed-none.exr', L, (oiio.HALF, oiio.FLOAT, oiio.HALF), 'none')
put('exr-mixed-none.exr', np.stack([HALF[..., 0], L[..., 1], HALF[..., 2]], -1), 'OpenImageIO 2.4.7.1 wrote it', 1e-7)
exr('exr-mixed-rle.exr', L, (oiio.HALF, oiio.HALF, oiio.FLOAT), 'rle')
put('exr-mixed-rle.exr', np.stack([HALF[..., 0], HALF[..., 1], L[..., 2]], -1), 'OpenImageIO 2.4.7.1 wrote it', 1e-7)
exr('exr-mixed-piz.exr', L, (oiio.FLOAT, oiio.HALF, oiio.FLOAT), 'piz')
refuse('exr-mixed-piz.exr', 'channels are of different kinds')
depth = np.dstack([L, (x + 100.5 * y).astype(np.float32)])
exr('exr-extra-depth.exr', depth, (oiio.HALF, oiio.HALF, oiio.HALF, oiio.FLOAT), names=('R', 'G', 'B', 'Z'))
put('exr-extra-depth.exr', HALF, 'OpenImageIO 2.4.7.1 wrote it', 1e-7)
exr('exr-uint.exr', (U16.astype(np.uint32)), names=('R', 'G', 'B'), kind=oiio.UINT32)
refuse('exr-uint.exr', 'holds whole numbers')
exr('exr-window.exr', L, window=(3, 2, 0, 0, 22, 18))
w = np.zeros((18, 22, 3))
w[2:14, 3:19] = HALF
put('exr-window.exr', w, 'numpy: the display window', 1e-7)
exr('exr-overscan.exr', L, window=(-2, -1, 0, 0, 10, 8))
put('exr-overscan.exr', HALF[1:9, 2:12], 'numpy: the display window', 1e-7)
exr('exr-origin.exr', L, window=(8, 5, 5, 3, 20, 14))
w = np.zeros((14, 20, 3))
w[2:14, 3:19] = HALF
put('exr-origin.exr', w, 'numpy: the display window', 1e-7)
for name, p, enc in [('p3', P3, 'linearP3'), ('bt2020', P2020, 'linear2020'),
                     ('ap0', ((0.7347, 0.2653), (0, 1), (0.0001, -0.077), (0.32168, 0.33767)), 'linearAp0'),
                     ('ap1', ((0.713, 0.293), (0.165, 0.83), (0.128, 0.044), (0.32168, 0.33767)), 'linearAp1')]:
    exr(f'exr-{name}.exr', L, attributes=[('chromaticities', oiio.TypeDesc('float[8]'), tuple(float(v) for c in p for v in c))])
    put(f'exr-{name}.exr', HALF, 'OpenImageIO 2.4.7.1 wrote it', 1e-7, encoding=enc)
OWN = ((0.69, 0.31), (0.2, 0.72), (0.14, 0.05), (0.3457, 0.3585))
exr('exr-own.exr', L, attributes=[('chromaticities', oiio.TypeDesc('float[8]'), tuple(float(v) for c in OWN for v in c))])
put('exr-own.exr', HALF @ between(OWN, P709).T, SPEC, 2e-6, encoding='linear709')

# --- TIFF that cannot be read ---
Image.fromarray(U8).convert('1').save(path('tiff-1bit.tif'))
refuse('tiff-1bit.tif', '1 bit')
Image.fromarray(U8).convert('1').save(path('tiff-fax.tif'), compression='group4')
refuse('tiff-fax.tif', 'fax')
Image.fromarray(U8).save(path('tiff-jpeg.tif'), compression='jpeg')
refuse('tiff-jpeg.tif', 'compression (7)')
tiff16('tiff-turned.tif', U16, extra=[(274, 3, 1, 8)])
put('tiff-turned.tif', np.rot90(F, 1), 'numpy: a quarter counter-clockwise', 0)

with open(path('expected.json'), 'w') as f:
    json.dump(expected, f, separators=(',', ':'))
