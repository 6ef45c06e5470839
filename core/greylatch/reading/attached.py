"""Pictures that are attached to features: made small and harmless once, shown below the card with whose they are."""

import hashlib
import io
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from html import escape
from pathlib import Path

from PIL import Image, ImageOps, UnidentifiedImageError

from greylatch.errors import BadFile
from greylatch.places.names import folded
from greylatch.tables.dataset import Dataset, column_named
from greylatch.wording import megabytes

__all__ = ["LARGEST", "Attached", "AttachedTo", "ReadyPicture", "figures", "ready_picture", "rows_called"]

LARGEST, MOST_PIXELS = 30_000_000, 80_000_000
"""Bytes of a file, and pixels of a picture, that are taken."""
SIDE, THUMB = 1_600, 240
"""Pixels of the longer side as it is kept, and of its thumbnail."""
QUALITY = 82


@dataclass(frozen=True)
class Attached:
    """A picture of a feature: the name of its file in an edition, where it lies here, its size, whose it is, and what it shows in words."""

    name: str
    path: Path
    width: int
    height: int
    credit: str = ""
    text: str = ""


AttachedTo = Mapping[int, Sequence[Attached]]
"""Pictures by the fid of their feature."""


@dataclass(frozen=True)
class ReadyPicture:
    """A picture as WebP with its thumbnail, its size in pixels, and a name after its content."""

    full: bytes
    thumb: bytes
    width: int
    height: int
    name: str

    @property
    def size(self) -> int:
        """Bytes of both."""
        return len(self.full) + len(self.thumb)


def ready_picture(data: bytes, name: str) -> ReadyPicture:
    """A stranger's picture made ready to be shown: turned as it was taken, no larger than is seen, and without what its camera wrote
    into it, which may say where somebody lives.

    Parameters
    ----------
    data : bytes
        The file.
    name : str
        What it is called in errors.

    Returns
    -------
    ReadyPicture

    Raises
    ------
    BadFile
        For what is no PNG, JPEG or WebP, and one that is too large.
    """
    if len(data) > LARGEST:
        raise BadFile(f"{name} is larger than {megabytes(LARGEST)}.")
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "WEBP")) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise BadFile(f"{name} has more than {MOST_PIXELS:,} pixels.")
            upright = ImageOps.exif_transpose(picture)
            if upright.mode.startswith("I"):  # 16 bits of grey, which a conversion would cut off rather than scale
                upright = upright.point(lambda grey: grey / 256).convert("L")
            shown = upright.convert("RGBA" if "A" in upright.getbands() or "transparency" in upright.info else "RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadFile(f"{name} is no PNG, JPEG or WebP that can be read.") from error
    shown.thumbnail((SIDE, SIDE))
    full, size = _webp(shown), shown.size
    shown.thumbnail((THUMB, THUMB))
    return ReadyPicture(full, _webp(shown), *size, f"{hashlib.sha256(full).hexdigest()[:24]}.webp")


def figures(attached: Iterable[Attached], home: str) -> str:
    """Pictures as safe HTML, each with whose it is.

    Parameters
    ----------
    attached : Iterable[Attached]
        The pictures.
    home : str
        What stands before their names in addresses.

    Returns
    -------
    str

    Examples
    --------
    >>> figures([Attached("a.webp", Path("a"), 160, 90, "Isla Orr", "The <weir>")], "pictures/")
    '<figure><img src="pictures/a.webp" alt="The &lt;weir&gt;" width="160" height="90" loading="lazy"><figcaption>The &lt;weir&gt; · Picture: Isla Orr</figcaption></figure>'
    """
    out = []
    for each in attached:
        words = " · ".join(filter(None, [escape(each.text), f"Picture: {escape(each.credit)}" if each.credit else ""]))
        caption = f"<figcaption>{words}</figcaption>" if words else ""
        out.append(
            f'<figure><img src="{escape(home + each.name)}" alt="{escape(each.text)}" width="{each.width}" height="{each.height}" loading="lazy">{caption}</figure>'
        )
    return "".join(out)


def rows_called(dataset: Dataset, field: str, file_name: str) -> list[int]:
    """The fids of the rows whose value in a field is a file's name without its ending, whatever its case, accents, blanks and dashes.

    Parameters
    ----------
    dataset : Dataset
        The data.
    field : str
        The field.
    file_name : str
        The file's name.

    Returns
    -------
    list[int]

    Raises
    ------
    BadInput
        For a field that is not there.

    Examples
    --------
    >>> import pyarrow as pa
    >>> rows_called(Dataset(pa.table({"isle": ["Ard Mór", "Skara"]}), "table"), "isle", "ARD_MOR.jpg")
    [0]
    """
    wanted = _called(file_name.rsplit(".", 1)[0])
    values = column_named(dataset.columns, field).to_pylist()
    return [
        int(dataset.fids[row])
        for row, value in enumerate(values)
        if value is not None and _called(str(value)) == wanted
    ]


def _called(name: str) -> str:
    return " ".join(re.split(r"[\s_-]+", folded(name).strip()))


def _webp(picture: Image.Image) -> bytes:
    out = io.BytesIO()
    # Nothing but pixels: Pillow writes what it is told to, and it is told nothing of EXIF.
    picture.save(out, "WEBP", quality=QUALITY, method=4)
    return out.getvalue()
