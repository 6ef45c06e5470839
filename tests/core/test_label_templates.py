"""What labels say: words and fields, formats, lines of their own; and sheets of before. Numbers and dates are written as Python's
format specification and strftime say, which are the referees."""

from datetime import date
from typing import Any

import numpy as np
import pyarrow as pa
import pytest
import shapely
from greylatch.errors import BadInput, CannotDraw
from greylatch.paint.lettered import to_letter
from greylatch.paint.passes import VectorPass, pass_of
from greylatch.paint.sources import VectorSource
from greylatch.places.crs import LONLAT
from greylatch.places.frame import MERCATOR
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.template import as_field, filled, parts_of
from greylatch.sheet.versions import lettering_from_3
from greylatch.tables.dataset import Dataset
from greylatch.tables.meaning import Meaning
from pydantic import ValidationError

COLUMNS = pa.table(
    {"name": ["Ness", "Ard", None], "t": [1234.56, None, 7.0], "opened": [date(2026, 5, 2), None, date(1999, 12, 31)],
     "share: peat": ["a", "b", "c"]}
)  # fmt: skip
MEANINGS = {"t": Meaning("measure", unit="t", decimals=1)}
ROWS = Dataset(COLUMNS, "points", np.array([shapely.Point(i, 52) for i in range(3)]), LONLAT, meanings=MEANINGS)


@pytest.mark.parametrize(
    ("template", "said"),
    [
        ("{name}", ["Ness", "Ard", ""]),
        ("{t}", ["1234.6", "", "7.0"]),
        ("{t:unit}", ["1234.6 t", "", "7.0 t"]),
        ("{t:,.0f} tonnes", ["1,235 tonnes", "", "7 tonnes"]),
        ("{name}: {t:.2f}", ["Ness: 1234.56", "Ard: ", ": 7.00"]),
        ("{opened:%d %B %Y}", ["02 May 2026", "", "31 December 1999"]),
        ("{opened}", ["2026-05-02", "", "1999-12-31"]),
        ('{"share: peat"}!', ["a!", "b!", "c!"]),
        ("{{{name}}}", ["{Ness}", "{Ard}", ""]),
        ("peat", ["peat"] * 3),
    ],
)
def test_templates_say_what_python_would(template: str, said: list[str]) -> None:
    assert filled(template, ROWS) == said


@pytest.mark.parametrize(
    ("template", "why"),
    [
        ("{nam}", "nam"),
        ("{name:.1f}", "writes numbers"),
        ("{name:%Y}", "writes dates"),
        ("{t:%Y}", "writes dates"),
        ("{opened:.1f}", "writes numbers"),
        ("{t:quick}", "can't be written"),
    ],
)
def test_what_does_not_suit_a_field_is_said(template: str, why: str) -> None:
    with pytest.raises(BadInput, match=why):
        filled(template, ROWS)


def test_a_brace_alone_is_refused_with_its_place() -> None:
    with pytest.raises(BadInput, match="at 6 that stands alone"):
        parts_of("peat {name")
    with pytest.raises(ValidationError):
        Sheet.model_validate({"title": "T", "layers": [layer([{"text": "}"}])]})


def test_any_name_can_stand_in_a_template() -> None:
    for name in ("plain", "with blank", "a:b", 'qu"ote', "{brace}", " edge "):
        (part,) = parts_of(as_field(name))
        assert not isinstance(part, str) and part.name == name.replace('"', "")


def layer(lines: list[dict[str, Any]], **more: Any) -> dict[str, Any]:
    return {
        "id": "a",
        "name": "A",
        "dataset": "d",
        "symbology": {"kind": "symbols"},
        "lettering": {"lines": lines, **more},
    }


def asked(lines: list[dict[str, Any]], **more: Any) -> Any:
    own = Layer.model_validate(layer(lines, **more))
    drawn = pass_of(own, lambda *_: VectorSource(ROWS, MERCATOR))
    assert isinstance(drawn, VectorPass) and own.lettering
    return to_letter(drawn.source, drawn.ink, own.lettering)


def test_lines_are_cased_wrapped_and_styled_each_for_itself() -> None:
    wanted = asked(
        [
            {
                "text": "Upper {name} Water",
                "case": "capitals",
                "wrap": 6,
                "family": "serif",
                "italic": True,
                "weight": 400,
            },
            {"text": "{t:.0f}", "size": 8, "spacing": 0.1},
        ]
    )
    assert wanted.lines(0) == (("UPPER", 0), ("NESS", 0), ("WATER", 0), ("1235", 1))
    assert wanted.lines(1) == (("UPPER", 0), ("ARD", 0), ("WATER", 0)), "a line that says nothing takes no room"
    assert wanted.lines(2) == (("7", 1),)
    assert [(style.face.name, style.size) for style in wanted.styles] == [("serif-400-italic", 12.0), ("sans-500", 8.0)]
    assert asked([{"text": "{name} MOR", "case": "title"}]).texts[0] == "Ness Mor"
    with pytest.raises(CannotDraw, match="nothing"):
        asked([{"text": "{nothing}"}])


def test_labels_of_before_say_the_same() -> None:
    before = {
        "field": "name", "below": "t", "size": 15.0, "colour": "#3d4b52", "capitals": True, "along": True, "halo": 2.0,
        "shorter": "share: peat", "decimals": None, "first_by": "t",
    }  # fmt: skip
    after = lettering_from_3(before)
    look = {"size": 15.0, "colour": "#3d4b52", "case": "capitals"}
    assert after["lines"] == [{"text": "{name}", **look}, {"text": "{t}", **look}]
    assert (after["course"], after["shorter"], after["halo"], after["first_by"]) == (
        "turned",
        '{"share: peat"}',
        2.0,
        "t",
    )
    assert lettering_from_3({"field": "t", "decimals": 2})["lines"] == [{"text": "{t:.2f}"}]
    assert lettering_from_3(after) == after
    old = {"version": 3, "title": "T", "layers": [{**layer([]), "lettering": before}]}
    sheet = Sheet.model_validate(old)
    assert sheet.version == 4 and sheet.layers[0].lettering is not None
    assert sheet.layers[0].lettering.naming_field == "name"
