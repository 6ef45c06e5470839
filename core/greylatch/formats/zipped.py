"""Opening zip files that strangers send: what is in them is checked before anything is unpacked."""

import errno
import lzma
import stat
import struct
import zipfile
import zlib
from pathlib import Path, PurePosixPath

from greylatch.errors import BadFile, BadInput

__all__ = ["UNREADABLE", "checked", "unpack"]

MAX_UNPACKED = 4 * 1024**3
MAX_RATIO = 200
MAX_ENTRIES = 2000
MAX_NAME = 240
"""Bytes of a file's name, as disks have it."""
UNREADABLE = (
    zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, lzma.LZMAError, struct.error, EOFError, NotImplementedError, RuntimeError,
    ValueError, OverflowError, IndexError,
)  # fmt: skip
"""What the reader of zips raises for damaged ones: not all of it under one root."""


def unpack(
    path: str | Path, into: str | Path, endings: set[str], max_unpacked: int = MAX_UNPACKED, most: int | None = None
) -> list[Path]:
    """Unpack the members of a zip with one of `endings` (lower case, with dot), flat, into the folder `into`.

    Nothing is unpacked then.

    Parameters
    ----------
    path : str | Path
        The file.
    into : str | Path
        The folder to write to.
    endings : set[str]
        Lower case, with the dot.
    max_unpacked : int
        Bytes that may come out at most.
    most : int | None
        How many bytes of each are wanted, from its beginning.

    Returns
    -------
    list[Path]

    Raises
    ------
    BadInput
        For what is no zip, for paths that lead out of it, links, bombs (by declared and by real size), and too many
        entries.
    """
    out = Path(into)
    written: list[Path] = []
    try:
        with zipfile.ZipFile(path) as archive:
            budget = max_unpacked
            for member in checked(archive, max_unpacked):
                if PurePosixPath(member.filename).suffix.lower() not in endings:
                    continue
                target = out / PurePosixPath(member.filename).name
                with archive.open(member) as source, target.open("xb") as sink:
                    written.append(target)
                    # The header's size is a claim; what really comes out is counted too.
                    wanted = most or max_unpacked + 1
                    while block := source.read(min(1 << 20, wanted)):
                        wanted -= len(block)
                        budget -= len(block)
                        if budget < 0:
                            raise BadFile(
                                f"The zip holds more than {max_unpacked / 1024**3:.0f} GB, unlike what it says."
                            )
                        sink.write(block)
    except BaseException as error:
        for target in written:
            target.unlink()
        if isinstance(error, FileExistsError):
            raise BadFile("The zip holds two files of the same name.") from error
        if isinstance(error, BadInput):
            raise
        # A seek or a read beyond what the file has shows as an error of the system without a file's name.
        if isinstance(error, UNREADABLE) or (isinstance(error, OSError) and error.errno in (None, errno.EINVAL)):
            raise BadFile("This is not a zip file that can be read.", "Pack it again.") from error
        raise
    return written


def checked(archive: zipfile.ZipFile, max_unpacked: int = MAX_UNPACKED) -> list[zipfile.ZipInfo]:
    """The files of an open zip, or BadInput that names the offending entry."""
    members = archive.infolist()
    if len(members) > MAX_ENTRIES:
        raise BadFile(f"The zip holds {len(members):,} entries; at most {MAX_ENTRIES:,} are read.")
    for member in members:
        name = PurePosixPath(member.filename.replace("\\", "/"))
        if name.is_absolute() or ".." in name.parts or ":" in member.filename:
            raise BadFile(f"The zip's entry '{member.filename[:80]}' leads out of the zip.", "Nothing was unpacked.")
        if len(name.name.encode("utf-8", "replace")) > MAX_NAME:
            raise BadFile(
                f"The zip's entry '{member.filename[:80]} …' has a name of {len(name.name):,} characters.",
                "Shorten it.",
            )
        if stat.S_ISLNK(member.external_attr >> 16):
            raise BadFile(f"The zip's entry '{member.filename[:80]}' is a link.", "Nothing was unpacked.")
        if member.flag_bits & 1:
            raise BadFile("The zip is locked with a password.")
    total = sum(member.file_size for member in members)
    packed = sum(member.compress_size for member in members)
    if total > max_unpacked or (total > 50_000_000 and total > MAX_RATIO * max(packed, 1)):
        raise BadFile(f"The zip would unpack to {total / 1024**3:.1f} GB.", "Nothing was unpacked.")
    return [member for member in members if not member.is_dir()]
