"""Pixels that were worked out by themselves, as Skia draws them."""

import numba
import numpy as np
import skia
from numpy.typing import NDArray

__all__ = ["image_of"]

RGBA = skia.ColorType.kRGBA_8888_ColorType


def image_of(rgba: NDArray[np.uint8]) -> skia.Image:
    """An image of pixels.

    Parameters
    ----------
    rgba : NDArray[np.uint8]
        (height, width, 4) uint8, straight alpha. What is not seen at all is made black in them.

    Returns
    -------
    skia.Image

    Examples
    --------
    >>> image_of(np.full((2, 3, 4), 255, dtype=np.uint8)).alphaType()
    <AlphaType.kPremul_AlphaType: 2>
    """
    pixels = np.ascontiguousarray(rgba)
    height, width, _ = pixels.shape
    # Where each pixel is there or is not, colours times their alpha are the colours: Skia draws those several times as fast.
    kind = skia.AlphaType.kPremul_AlphaType if _there_or_not(pixels) else skia.AlphaType.kUnpremul_AlphaType
    return skia.Image.MakeRasterData(
        skia.ImageInfo.Make(width, height, RGBA, kind), skia.Data.MakeWithCopy(pixels), width * 4
    )


@numba.njit(cache=True)
def _there_or_not(pixels):  # type: ignore[no-untyped-def]
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            alpha = pixels[y, x, 3]
            if alpha == 0:
                pixels[y, x, 0] = pixels[y, x, 1] = pixels[y, x, 2] = 0
            elif alpha != 255:
                return False
    return True
