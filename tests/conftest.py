"""What all tests share: the invented islands as files, made once a run."""

from pathlib import Path

import pytest
from vaskerry.write import write_demo


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder with all files of the demo."""
    folder = tmp_path_factory.mktemp("vaskerry")
    write_demo(folder)
    return folder
