"""Glyph files: typefaces as signed distance fields, which readers of open style documents draw text from."""

import math
from functools import lru_cache
from typing import Any

import numpy as np
import skia
from google.protobuf import descriptor_pb2, descriptor_pool, message_factory
from numpy.typing import NDArray
from scipy.ndimage import distance_transform_edt

from greylatch.errors import BadInput
from greylatch.lettering.faces import FAMILIES, PLAIN, Face, face_for, face_of, typeface
from greylatch.lettering.type import font

__all__ = ["BORDER", "EM", "FINER", "RANGE", "TOP_OF_LINE", "distance_field", "glyph_range", "stack_named", "stack_of"]

PLAIN_STACK = "Source Sans 3 Medium"
"""What style documents call the plain face in `text-font`, as they did when there was no other."""
RANGE = 256
EM = 24
"""Px of an em in glyph files; the size is part of the format. Common practice, as are the next three."""
BORDER = 3
REACH = 8.0
"""Px over which the distance runs from 255, deep inside, to 0; the outline stands at three quarters."""
INSIDE = 0.75
TOP_OF_LINE = 23
"""Px from a line's top to its baseline. Readers set a line's middle 17 px under its top, so that the baseline comes to lie
a quarter of an em under the anchor, as the painter has it."""
FINER = 8
"""Samples per px, each way, from which the distance is measured."""


def stack_of(face: Face) -> str:
    """What style documents call a face.

    >>> stack_of(face_of("serif", 400, True))
    'serif-400-italic'
    """
    return PLAIN_STACK if face == PLAIN else face.name


def stack_named(name: str) -> Face | None:
    """The face of a stack; None for one that is not known.

    >>> stack_named("Comic") is None
    True
    """
    if name == PLAIN_STACK:
        return PLAIN
    return next(
        (face for family, files in FAMILIES.items() for key in files if (face := face_of(family, *key)).name == name),
        None,
    )


@lru_cache(maxsize=256)
def glyph_range(first: int, face: Face = PLAIN) -> bytes:
    """The glyph file of the 256 code points from `first`, a multiple of 256: a protobuf message `glyphs` with one
    stack.

    Code points that the face does not have come from that of their script; those that none has are left out.

    Parameters
    ----------
    first : int
        The first code point.
    face : Face
        The face.

    Returns
    -------
    bytes

    Raises
    ------
    BadInput
        Where no range begins at `first`.

    Examples
    --------
    >>> len(glyph_range(0)) > 20_000
    True
    """
    if first % RANGE or not 0 <= first < 65536:
        raise BadInput(f"No range of glyphs begins at {first}.", "Ranges begin at multiples of 256 below 65536.")
    message = _Glyphs()
    stack = message.stacks.add(name=stack_of(face), range=f"{first}-{first + RANGE - 1}")
    for character in range(first, first + RANGE):
        own = None if 0xD800 <= character < 0xE000 else face_for(chr(character), face)
        glyph = typeface(own).unicharsToGlyphs([character])[0] if own else 0
        if own is None or glyph == 0:
            continue
        drawn = font(EM, own)
        stack.glyphs.add(id=character, advance=round(drawn.getWidths([glyph])[0]), **_drawn(drawn.getPath(glyph)))
    return bytes(message.SerializeToString())


def _drawn(outline: skia.Path | None) -> dict[str, Any]:
    """Size, place and distance field of an outline; blanks have no field."""
    if outline is None or outline.isEmpty():
        return {"width": 0, "height": 0, "left": 0, "top": -TOP_OF_LINE}
    box = outline.computeTightBounds()
    left, top = math.floor(box.left()), math.floor(box.top())
    width, height = math.ceil(box.right()) - left, math.ceil(box.bottom()) - top
    surface = skia.Surface((width + 2 * BORDER) * FINER, (height + 2 * BORDER) * FINER)
    canvas = surface.getCanvas()
    canvas.scale(FINER, FINER)
    canvas.translate(BORDER - left, BORDER - top)
    canvas.drawPath(outline, skia.Paint(AntiAlias=False))
    inked = surface.makeImageSnapshot().toarray(colorType=skia.ColorType.kRGBA_8888_ColorType)[..., 3] > 0
    field = distance_field(inked, FINER)
    return {"bitmap": field.tobytes(), "width": width, "height": height, "left": left, "top": -top - TOP_OF_LINE}


def distance_field(inked: NDArray[np.bool_], finer: int) -> NDArray[np.uint8]:
    """The (h, w) field of an (h * finer, w * finer) picture: 191 on the outline, more inside, less outside.

    Parameters
    ----------
    inked : NDArray[np.bool_]
        (h * finer, w * finer) whether there is ink.
    finer : int
        Samples per px, each way.

    Returns
    -------
    NDArray[np.uint8]

    Examples
    --------
    >>> distance_field(np.ones((1, 1), dtype=bool), 1).tolist()
    [[207]]
    """
    # A rim of paper makes a picture that is ink throughout end at its edge.
    wide = np.pad(inked, 1)
    # Samples stand half a sample off the line between ink and paper, on both sides.
    signed = np.where(wide, distance_transform_edt(wide) - 0.5, 0.5 - distance_transform_edt(~wide))[1:-1, 1:-1]
    h, w = inked.shape[0] // finer, inked.shape[1] // finer
    inward = signed.reshape(h, finer, w, finer).mean(axis=(1, 3)) / finer
    return np.clip(np.round(255 * (INSIDE + inward / REACH)), 0, 255).astype(np.uint8)


def _message_class() -> Any:
    """The class of the message `glyphs`, described here in full: the format has three kinds of message and no more."""
    kinds = descriptor_pb2.FieldDescriptorProto
    scalar = {"uint32": kinds.TYPE_UINT32, "sint32": kinds.TYPE_SINT32, "bytes": kinds.TYPE_BYTES, "string": kinds.TYPE_STRING}  # fmt: skip
    messages = {
        "glyph": ("id uint32", "bitmap bytes", "width uint32", "height uint32", "left sint32", "top sint32", "advance uint32"),
        "fontstack": ("name string", "range string", "glyphs glyph"),
        "glyphs": ("stacks fontstack",),
    }  # fmt: skip
    file = descriptor_pb2.FileDescriptorProto(name="glyphs.proto", package="greylatch.glyphs", syntax="proto2")
    for name, fields in messages.items():
        message = file.message_type.add(name=name)
        for number, (field, kind) in enumerate((field.split() for field in fields), 1):
            added = message.field.add(name=field, number=number, label=kinds.LABEL_OPTIONAL)
            if kind in scalar:
                added.type = scalar[kind]
            else:
                added.type, added.type_name = kinds.TYPE_MESSAGE, f".{file.package}.{kind}"
                added.label = kinds.LABEL_REPEATED
    pool = descriptor_pool.DescriptorPool()
    pool.Add(file)
    return message_factory.GetMessageClass(pool.FindMessageTypeByName(f"{file.package}.glyphs"))


_Glyphs = _message_class()
