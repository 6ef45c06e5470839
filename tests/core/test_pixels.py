"""Pixels handed to Skia are theirs from then on, whatever comes into the memory that they were in."""

import numpy as np
import pytest
import skia
from greylatch.paint.pixels import image_of


@pytest.mark.parametrize("alpha", [255, 254])
def test_an_image_outlives_the_pixels_that_it_is_made_of(alpha: int) -> None:
    """Its own copy: one that shares memory shows what is written there next, as soon as blocks of the same size are asked for."""
    shape = (20, 80, 4)
    image = image_of(np.full(shape, alpha, np.uint8))
    for _ in range(50):
        other_memory = [skia.Data.MakeWithCopy(np.zeros(shape, np.uint8)) for _ in range(20)]
        drawn = image.toarray(colorType=skia.ColorType.kRGBA_8888_ColorType)
        assert drawn.min() >= alpha, len(other_memory)
