"""Small pictures of whole maps."""

from greylatch.errors import OffMap
from greylatch.paint.passes import compose
from greylatch.paint.picture import paint
from greylatch.paint.sources import Find
from greylatch.sheet.document import Sheet as Document
from greylatch.tiles.image import png
from greylatch.tiles.view import whole_view


def picture_of(document: Document, find: Find, width: int, height: int) -> bytes:
    """PNG of the whole map without its labels, which nobody could read and which take longest; empty bytes where there is nothing
    to draw. Raises BadInput for a layer that can't be drawn."""
    plain = [layer.model_copy(update={"lettering": None}) for layer in document.layers]
    composition = compose(document.model_copy(update={"layers": plain}), find)
    try:
        view = whole_view(composition, width, height)
    except OffMap:
        return b""
    return png(paint(composition, view))
