"""What all tests share: the invented islands as files, made once a run."""

import zipfile
from pathlib import Path

import pytest
from isal import isal_zlib
from vaskerry.write import write_demo


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder with all files of the demo."""
    folder = tmp_path_factory.mktemp("vaskerry")
    write_demo(folder)
    return folder


@pytest.fixture(scope="session")
def ten_gigabytes(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A zip of ten megabytes with ten gigabytes of zeros in it, as a stranger would send it under the name of a Shapefile."""
    path = tmp_path_factory.mktemp("bomb") / "bomb.zip"
    with pytest.MonkeyPatch.context() as patched:
        # The same format, some ten times as fast.
        patched.setattr(zipfile, "zlib", isal_zlib)
        patched.setattr(zipfile, "crc32", isal_zlib.crc32)
        with (
            zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive,
            archive.open("a.shp", "w", force_zip64=True) as entry,
        ):
            block = bytes(1 << 24)
            for _ in range(640):
                entry.write(block)
    return path
