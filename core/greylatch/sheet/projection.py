"""In which frame a sheet is drawn."""

from greylatch.places.frame import MERCATOR, Frame
from greylatch.sheet.document import Sheet

__all__ = ["frame_of"]


def frame_of(sheet: Sheet) -> Frame:
    """The frame that the sheet names; Web Mercator where it names none.

    >>> frame_of(Sheet(title="Peat")).name
    'EPSG:3857 · WGS 84 / Pseudo-Mercator'
    """
    return Frame.named(sheet.projection.crs) if sheet.projection else MERCATOR
