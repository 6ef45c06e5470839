"""Pictures as files: PNG with alpha, and shrinking a picture to half for the next level up."""

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Rgba = NDArray[np.uint8]


def png(rgba: Rgba, level: int = 5) -> bytes:
    """`rgba` (height, width, 4; straight alpha) as PNG. A wholly opaque picture is written without alpha, which is smaller."""
    opaque = bool((rgba[..., 3] == 255).all())
    buffer = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(rgba[..., :3]) if opaque else rgba).save(buffer, "PNG", compress_level=level)
    return buffer.getvalue()


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
    """Four tiles put together, each (column, row) of 0 or 1; absent ones are empty."""
    out = np.zeros((2 * size, 2 * size, 4), dtype=np.uint8)
    for (column, row), part in parts.items():
        out[row * size : (row + 1) * size, column * size : (column + 1) * size] = part
    return out
