"""Pixels that were worked out by themselves, as Skia draws them."""

from collections.abc import Callable

import numba
import numpy as np
import skia
from numpy.typing import NDArray

__all__ = ["drawn_over", "image_of", "image_of_products"]

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
    # Where each pixel is there or is not, colours times their alpha are the colours: Skia draws those several times as fast.
    kind = skia.AlphaType.kPremul_AlphaType if _there_or_not(pixels) else skia.AlphaType.kUnpremul_AlphaType
    # Not `MakeRasterData`: the binding's image does not keep the data that it is made of alive, and shows what comes into their memory.
    return skia.Image.fromarray(pixels, colorType=RGBA, alphaType=kind)


def image_of_products(rgba: NDArray[np.uint8]) -> skia.Image:
    """An image of pixels whose colours are multiplied by their alpha already.

    Parameters
    ----------
    rgba : NDArray[np.uint8]
        (height, width, 4) uint8.

    Returns
    -------
    skia.Image
    """
    return skia.Image.fromarray(rgba, colorType=RGBA, alphaType=skia.AlphaType.kPremul_AlphaType)


def drawn_over(
    rgba: NDArray[np.uint8], box: tuple[int, int, int, int], draw: Callable[[skia.Canvas], None]
) -> NDArray[np.uint8]:
    """A picture with something drawn over a box of it; all of the rest stays as it is, bit for bit.

    Parameters
    ----------
    rgba : NDArray[np.uint8]
        (height, width, 4), straight alpha.
    box : tuple[int, int, int, int]
        Left, top, width, height in px, within the picture.
    draw : Callable[[skia.Canvas], None]
        Draws on a canvas with the box's upper left at (0, 0).

    Returns
    -------
    NDArray[np.uint8]

    Examples
    --------
    >>> whole = drawn_over(np.zeros((4, 4, 4), np.uint8), (1, 1, 2, 2), lambda canvas: canvas.clear(skia.ColorRED))
    >>> whole[:, :, 0].tolist()
    [[0, 0, 0, 0], [0, 255, 255, 0], [0, 255, 255, 0], [0, 0, 0, 0]]
    """
    left, top, width, height = box
    surface = skia.Surface(width, height)
    canvas = surface.getCanvas()
    canvas.drawImage(image_of(rgba[top : top + height, left : left + width].copy()), 0, 0)
    draw(canvas)
    out = rgba.copy()
    out[top : top + height, left : left + width] = surface.makeImageSnapshot().toarray(colorType=RGBA)
    return out


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
