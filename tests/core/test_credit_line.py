"""Pictures of maps say whom their data are owed to, and hide little of the map."""

import json
from pathlib import Path

import numpy as np
import pytest
from greylatch.cli.main import main
from greylatch.paint.credit_line import credited
from numpy.typing import NDArray
from PIL import Image

PLAIN = np.full((120, 400, 4), (90, 120, 60, 255), np.uint8)


def covered(before: NDArray[np.uint8], after: NDArray[np.uint8]) -> tuple[float, float, float, float]:
    """The box of what differs, as shares of the picture: left, top, right, bottom."""
    rows, columns = np.nonzero((before != after).any(axis=2))
    height, width = before.shape[:2]
    return columns.min() / width, rows.min() / height, (columns.max() + 1) / width, (rows.max() + 1) / height


def test_credits_stand_in_the_lower_right_corner() -> None:
    left, top, right, bottom = covered(PLAIN, credited(PLAIN, "Survey of the isles")[0])
    assert (right, bottom) == (1, 1)
    assert left > 0.6 and top > 0.8


@pytest.mark.parametrize(
    "words",
    [
        "Vaskerry Peatland Survey · Institute for Slow Water · Register of Bothies, Harbours and Ferries · " * 3,
        "泥炭調査所" * 30,
        "x" * 200,
    ],
)
def test_long_credits_are_broken_and_set_smaller(words: str) -> None:
    _, top, _, _ = covered(PLAIN, credited(PLAIN, words)[0])
    assert 0.3 < top < 0.85, "all of it, and most of the map"


def test_what_is_translucent_stays_so_beyond_the_corner() -> None:
    thin = np.zeros((120, 400, 4), np.uint8)
    thin[..., :] = (201, 3, 77, 5)
    assert covered(thin, credited(thin, "Survey")[0])[1] > 0.8


@pytest.mark.parametrize(("width", "words"), [(400, ""), (400, "  \n "), (100, "Survey of the isles")])
def test_pictures_without_credits_or_too_narrow_stay_as_they_are(width: int, words: str) -> None:
    assert np.array_equal(credited(PLAIN[:, :width], words)[0], PLAIN[:, :width])


def test_drawn_pictures_carry_credits_and_date(demo: Path, tmp_path: Path) -> None:
    sheet = json.loads((demo / "carbon.sheet.json").read_text())
    pictures = []
    for name, credits in (("with", "Survey of the isles"), ("without", "")):
        sheet["furniture"] |= {
            "credits": credits,
            "source_date": "May 2024" if credits else "",
            "scale_bar": False,
            "terms": "",
        }
        file = demo / f"credits-{name}.sheet.json"
        file.write_text(json.dumps(sheet))
        assert main(["draw", str(file), "--out", str(tmp_path / f"{name}.png"), "--size", "400x300"]) == 0
        file.unlink()
        pictures.append(np.asarray(Image.open(tmp_path / f"{name}.png").convert("RGBA")))
    left, top, _, _ = covered(*pictures)
    assert 0.4 < left < 0.75 and top > 0.9


def test_terms_of_use_stand_with_credits_and_date(demo: Path, tmp_path: Path) -> None:
    sheet = json.loads((demo / "carbon.sheet.json").read_text())
    sheet["furniture"] |= {"credits": "Survey of the isles", "source_date": "", "terms": "CC BY 4.0"}
    file = demo / "terms.sheet.json"
    file.write_text(json.dumps(sheet))
    assert main(["publish", str(file), "--out", str(tmp_path / "e"), "--min-zoom", "8", "--max-zoom", "8"]) == 0
    file.unlink()
    assert "Survey of the isles · CC BY 4.0" in (tmp_path / "e" / "index.html").read_text()
    assert json.loads((tmp_path / "e" / "edition.json").read_text())["terms"] == "CC BY 4.0"
