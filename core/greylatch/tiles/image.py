"""Pictures as files: PNG and WebP with alpha, and shrinking a picture to half for the next level up."""

import struct

import numpy as np
import skia
from isal import isal_zlib
from numpy.typing import NDArray

__all__ = ["LOSSLESS", "encoded", "halved", "is_empty", "png", "quarters_joined"]

Rgba = NDArray[np.uint8]
SIGNATURE = b"\x89PNG\r\n\x1a\n"
SUB, TRUECOLOUR, TRUECOLOUR_ALPHA = 1, 2, 6
DEFLATE_LEVEL = 2
LOSSLESS = 100
"""The quality at which Skia takes its lossless encoder of WebP."""


def encoded(rgba: Rgba, format: str, quality: int = LOSSLESS) -> bytes:
    """`rgba` (height, width, 4; straight alpha) as a file of the format 'png' or 'webp'. Both give back the same pixels; WebP of a lower
    `quality` than `LOSSLESS` nearly the same.

    Parameters
    ----------
    rgba : Rgba
        (height, width, 4), straight alpha.
    format : str
        'png' or 'webp'.
    quality : int
        1 to 100, of WebP; 100 is without loss.

    Returns
    -------
    bytes

    Examples
    --------
    >>> encoded(np.zeros((2, 2, 4), dtype=np.uint8), "webp")[:4]
    b'RIFF'
    """
    return png(rgba) if format == "png" else webp(rgba, quality)


def webp(rgba: Rgba, quality: int = LOSSLESS) -> bytes:
    """`rgba` as WebP; its alpha keeps every value at any quality."""
    image = skia.Image.fromarray(np.ascontiguousarray(rgba), colorType=skia.ColorType.kRGBA_8888_ColorType)
    return bytes(image.encodeToData(skia.EncodedImageFormat.kWEBP, quality))


def png(rgba: Rgba) -> bytes:
    """`rgba` (height, width, 4; straight alpha) as PNG. A wholly opaque picture is written without alpha, which is smaller.

    Written here (PNG specification, third edition, W3C 2025) over Intel's deflate, because trying every filter on every
    row, as the imaging libraries do, takes five to ten times as long and saves nothing on maps and aerial pictures.
    """
    opaque = bool((rgba[..., 3] == 255).all())
    pixels = rgba[..., :3] if opaque else rgba
    height, width, bands = pixels.shape
    rows = np.empty((height, width * bands + 1), dtype=np.uint8)
    raw = pixels.reshape(height, width * bands)
    rows[:, 0] = SUB
    rows[:, 1 : bands + 1] = raw[:, :bands]
    np.subtract(raw[:, bands:], raw[:, :-bands], out=rows[:, bands + 1 :])
    head = struct.pack(">IIBBBBB", width, height, 8, TRUECOLOUR if opaque else TRUECOLOUR_ALPHA, 0, 0, 0)
    parts = ((b"IHDR", head), (b"IDAT", isal_zlib.compress(rows, DEFLATE_LEVEL)), (b"IEND", b""))
    return SIGNATURE + b"".join(_chunk(kind, data) for kind, data in parts)


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", isal_zlib.crc32(data, isal_zlib.crc32(kind)))


def is_empty(rgba: Rgba) -> bool:
    """Whether nothing at all is drawn."""
    return not rgba[..., 3].any()


def halved(rgba: Rgba) -> Rgba:
    """Half the width and height: the mean of each 2 × 2 pixels, weighted by alpha so that empty ones do not darken edges.

    >>> halved(np.full((2, 2, 4), 200, dtype=np.uint8)).tolist()
    [[[200, 200, 200, 200]]]
    """
    if rgba[..., 3].min() == 255:
        return ((_sum4(rgba.astype(np.uint16)) + 2) // 4).astype(np.uint8)
    alpha = rgba[..., 3:].astype(np.uint32)
    weighted = _sum4(rgba[..., :3] * alpha)
    weight = _sum4(alpha)
    out = np.zeros((*weight.shape[:2], 4), dtype=np.uint8)
    out[..., :3] = (weighted + weight // 2) // np.maximum(weight, 1)
    out[..., 3] = ((weight + 2) // 4)[..., 0]
    return out


def _sum4(block: NDArray[np.unsignedinteger]) -> NDArray[np.unsignedinteger]:
    return block[0::2, 0::2] + block[0::2, 1::2] + block[1::2, 0::2] + block[1::2, 1::2]


def quarters_joined(parts: dict[tuple[int, int], Rgba], size: int) -> Rgba:
    """Four tiles put together, each (column, row) of 0 or 1; absent ones are empty.

    Parameters
    ----------
    parts : dict[tuple[int, int], Rgba]
        The tiles by column and row, each 0 or 1.
    size : int
        Px along the side of a tile.

    Returns
    -------
    Rgba
    """
    out = np.zeros((2 * size, 2 * size, 4), dtype=np.uint8)
    for (column, row), part in parts.items():
        out[row * size : (row + 1) * size, column * size : (column + 1) * size] = part
    return out
