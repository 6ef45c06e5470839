"""A raster's ink as a cartographer would begin with it."""

from typing import get_args

from greylatch.colour.ramps import ramp_colours
from greylatch.errors import BadInput
from greylatch.rasters.figures import values_there
from greylatch.sheet.parts import RampChoice
from greylatch.sheet.symbology import NamedValue, NamedValues, RasterSymbology

__all__ = ["begun_ink"]

QUALITATIVE = "pebbles"


def begun_ink(kind: str, path: str, band: int = 1) -> RasterSymbology:
    """A symbology of a kind for a band; of named values with all that there are.

    Parameters
    ----------
    kind : str
        As in the sheet: 'raster-ramp', 'raster-classes', 'named-values', 'hillshade', 'slope', 'picture'.
    path : str
        The file.
    band : int
        Counted from 1.

    Returns
    -------
    RasterSymbology

    Raises
    ------
    BadInput
        For another kind, and where there are too many values to be named.
    """
    if kind == "named-values":
        there = values_there(path, band)
        colours = ramp_colours(RampChoice(name=QUALITATIVE), len(there))
        named = [NamedValue(value=each.value, colour=colour) for each, colour in zip(there, colours, strict=True)]
        return NamedValues(band=band, values=named)
    for look in get_args(RasterSymbology):
        if look.model_fields["kind"].default == kind:
            symbology: RasterSymbology = look(**({"band": band} if "band" in look.model_fields else {}))
            return symbology
    raise BadInput(f"A raster is not drawn as '{kind}'.")
