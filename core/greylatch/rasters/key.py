"""What the key says of a raster's ink."""

from greylatch.colour.ramps import ramp_colours
from greylatch.encodings.by_classes import class_id, class_text, decimals_for
from greylatch.rasters.figures import band_classes, stretch_ends
from greylatch.sheet.parts import Symbol
from greylatch.sheet.symbology import NamedValues, RasterClasses, RasterRamp, RasterSymbology, Slope
from greylatch.symbols.look import Entry, Section
from greylatch.symbols.marks import Mark, mark_of

__all__ = ["raster_sections"]

STEPS = 24


def raster_sections(path: str, symbology: RasterSymbology) -> tuple[Section, ...]:
    """The sections of the key of a raster: a ramp with its ends, classes, or what values stand for; none of what carries its own colours.

    Parameters
    ----------
    path : str
        The file.
    symbology : RasterSymbology
        How the layer is drawn.

    Returns
    -------
    tuple[Section, ...]

    Raises
    ------
    BadInput
        For a band that there is not.
    """
    if isinstance(symbology, RasterRamp):
        return (_ramp(symbology, stretch_ends(path, symbology)),)
    if isinstance(symbology, Slope):
        return (_ramp(symbology, (symbology.low, symbology.high)),)
    if isinstance(symbology, RasterClasses):
        classes = band_classes(path, symbology.band, symbology.classing).classes
        decimals, colours = decimals_for(classes), ramp_colours(symbology.ramp, len(classes))
        band = f"band {symbology.band}"
        entries = tuple(
            Entry(
                class_id(band, "", each),
                class_text(each, decimals),
                _patch(colour),
                None,
                limits,
                numbers=(limits,),
            )
            for each, colour in zip(classes, colours, strict=True)
            for limits in [(each.lower, each.upper)]
        )
        return (Section("", "", "colour", entries, rising=True),)
    if isinstance(symbology, NamedValues):
        entries = tuple(
            Entry(
                f"value {each.value:.9g}",
                each.name or f"{each.value:g}",
                _patch(each.colour) if each.drawn else None,
                None,
            )
            for each in symbology.values
        )
        return (Section("", "", "colour", entries),)
    return ()


def _ramp(symbology: RasterRamp | Slope, ends: tuple[float, float]) -> Section:
    colours = tuple(ramp_colours(symbology.ramp, STEPS))
    return Section("", "", "colour", (), ramp=colours, ends=(float(ends[0]), float(ends[1])))


def _patch(colour: str) -> Mark:
    return mark_of(Symbol(strokes=[]), "areas", colour)
