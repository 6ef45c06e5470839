"""Effects on the finished picture of a layer or a group: blur, glow, shadow, in that order, as browsers' filters make them."""

import skia

from greylatch.paint.pens import colour
from greylatch.sheet.layers import Effects

__all__ = ["effect_filter"]


def effect_filter(effects: Effects, ratio: float = 1.0) -> skia.ImageFilter | None:
    """The filter that makes the effects; None where there are none.

    Parameters
    ----------
    effects : Effects
        What is to be done, in px of the screen.
    ratio : float
        Px of the picture to one of the screen.

    Returns
    -------
    skia.ImageFilter | None
    """
    image_filter: skia.ImageFilter | None = None
    if effects.blur > 0:
        image_filter = skia.ImageFilters.Blur(
            effects.blur * ratio, effects.blur * ratio, skia.TileMode.kDecal, image_filter
        )
    for cast, right, down in ((effects.glow, 0.0, 0.0), (effects.shadow, None, None)):
        if cast is None or cast.opacity == 0:
            continue
        dx = getattr(cast, "right", 0.0) if right is None else right
        dy = getattr(cast, "down", 0.0) if down is None else down
        blur = cast.blur * ratio
        image_filter = skia.ImageFilters.DropShadow(
            dx * ratio, dy * ratio, blur, blur, colour(cast.colour, cast.opacity), image_filter
        )
    return image_filter
