"""Every kind of look, and all that readers ask, on files that nobody here made: counties with births and deaths (sids2), homicides around
St. Louis (stl), wards of Tokyo, Soho's dead of 1854 (snow_maps), street nets in feet (geodanet, networks), houses of Baltimore: data of libpysal, open."""

import gzip
import json
import zipfile
from pathlib import Path
from typing import Any, NamedTuple

import pytest
from greylatch.cli.draw import beside
from greylatch.edition.plan import plan_edition
from greylatch.edition.publish import publish
from greylatch.errors import CannotDraw
from greylatch.formats.files import read_file
from greylatch.formats.written_geojson import write_geojson
from greylatch.paint.key import layer_key
from greylatch.paint.key_picture import key_pixels
from greylatch.paint.passes import Composition, pass_of
from greylatch.paint.picture import paint
from greylatch.paint.sources import VectorSource
from greylatch.places.frame import Frame
from greylatch.places.view import View
from greylatch.sheet.document import Furniture
from greylatch.sheet.layers import Layer
from greylatch.sheet.reading import read_sheet
from greylatch.tables.dataset import Dataset
from libpysal import examples

HOME = Path(examples.__file__).parent


class Theirs(NamedTuple):
    """A file, two of its fields of numbers, one that tells its rows apart, and its system where it says none."""

    file: str
    first: str
    second: str
    name: str
    crs: str | None = None


AREAS = [
    Theirs("sids2/sids2.shp", "SID74", "BIR74", "NAME", "EPSG:4267"),
    Theirs("stl/stl_hom.shp", "HR7984", "PO8893", "NAME", "EPSG:4326"),
    Theirs("tokyo/tokyomet262.shp", "AreaID", "AreaID", "AREANAME"),
]
POINTS = [
    Theirs("snow_maps/SohoPeople.shp", "Count", "Count", "Id"),
    Theirs("virginia/vautm17n_points.shp", "ID", "ID", "ID"),
    Theirs("baltim/baltim.shp", "PRICE", "AGE", "STATION", "EPSG:2248"),
]
LINES = [
    Theirs("geodanet/streets.shp", "Length", "ID", "ID"),
    Theirs("Line/Line.shp", "IValue", "FValue", "Name"),
    Theirs("networks/eberly_net.shp", "FNODE", "TNODE", "ONEWAY", "EPSG:2965"),
]


def read(theirs: Theirs, folder: Path) -> Dataset:
    """As it comes: a Shapefile in a zip."""
    shapes = HOME / theirs.file
    packed = folder / f"{shapes.stem}.zip"
    with zipfile.ZipFile(packed, "w") as archive:
        for part in shapes.parent.glob(f"{shapes.stem}.*"):
            archive.write(part, part.name)
    return read_file(packed, crs=theirs.crs).dataset.described()


def classes(field: str, **more: Any) -> dict[str, Any]:
    return {"by": "classes", "classing": {"field": field, **more}}


def looks(theirs: Theirs, kind: str) -> dict[str, dict[str, Any]]:
    """What is made of them: by name the parts of a layer."""
    first, second, name = f'"{theirs.first}"', f'"{theirs.second}"', theirs.name

    def symbols(**encodings: Any) -> dict[str, Any]:
        return {"symbology": {"kind": "symbols", "encodings": encodings}}

    every: dict[str, dict[str, Any]] = {
        f"classes: {method}": symbols(colour=classes(theirs.first, method=method, classes=4))
        for method in ("quantile", "equal-interval", "natural-breaks", "standard-deviation", "pretty", "head-tail")
    }
    every |= {
        "weighted, to be said": symbols(colour=classes(theirs.first, method="quantile", classes=3, weight=theirs.second, nice=True)),
        "an expression": symbols(colour=classes(f"{first} + 2 * {second}", method="equal-interval", classes=2)),
        "a ramp with a middle": symbols(colour={"by": "value", "field": theirs.first, "ramp": {"name": "thaw"}}),
        "categories": symbols(colour={"by": "category", "field": name}),
        "two ways": symbols(
            colour={"by": "two-way", "first": {"field": theirs.first, "classes": 3}, "second": {"field": theirs.second, "classes": 3}}
        ),
        "the largest": symbols(colour={"by": "largest", "fields": [{"field": theirs.first}, {"field": theirs.second}]}),
        "faintness": symbols(opacity={"by": "value", "field": theirs.first}),
        "rules": {
            "symbology": {
                "kind": "symbols", "others": "left out",
                "rules": [
                    {"id": "a", "name": "some", "where": f"{first} > 3 AND {first} IS NOT NULL", "symbol": {"fill": "#aa3322", "strokes": [{"colour": "#aa3322"}]}},
                    {"id": "b", "name": "near", "where": f"{first} BETWEEN 0 AND 3 OR {second} >= 0", "symbol": {"fill": "#2233aa", "strokes": [{"colour": "#2233aa"}]}},
                ],
            }
        },
        "effects": {"symbology": {"kind": "symbols"}, "effects": {"shadow": {}, "glow": {"blur": 2}, "blur": 1}, "blend": "multiply"},
        "one by hand": {"symbology": {"kind": "symbols", "exceptions": {"1": {"fill": "#00ff00"}}}},
    }  # fmt: skip
    if kind != "lines":
        every["a pattern"] = {"symbology": {"kind": "symbols", "symbol": {"pattern": {"kind": "cross", "spacing": 5}}}}
        every["shares"] = {
            **symbols(shares={"by": "shares", "fields": [{"field": theirs.first}, {"field": theirs.second}]}),
            **({"reading": {"by": "centres"}} if kind == "areas" else {}),
        }
        every["sizes"] = {
            **symbols(size={"by": "value", "field": theirs.first}),
            **({"reading": {"by": "centres"}} if kind == "areas" else {}),
        }
    if kind == "lines":
        every["wide by a field"] = symbols(size={"by": "value", "field": theirs.first})
    if kind == "areas":
        every["dots"] = {"symbology": {"kind": "symbols"}, "reading": {"by": "dots", "field": theirs.first, "each": 5}}
    if kind == "points":
        for shape in ("hexagon", "square"):
            grid = {"by": "grid", "shape": shape, "size": 2_000, "what": "mean", "field": theirs.first}
            every[f"{shape}s"] = {
                **symbols(colour=classes("value", method="equal-interval", classes=2)),
                "reading": grid,
            }
        every["heat"] = {"symbology": {"kind": "heat"}}
        every["clusters"] = {"symbology": {"kind": "clusters"}}
    return every


@pytest.mark.parametrize("kind", ["areas", "points", "lines"])
@pytest.mark.parametrize("number", range(3))
def test_every_kind_of_look_is_drawn_with_its_key(kind: str, number: int, tmp_path: Path) -> None:
    theirs = {"areas": AREAS, "points": POINTS, "lines": LINES}[kind][number]
    data = read(theirs, tmp_path)
    assert data.kind == kind
    frame = Frame.named("EPSG:3857")
    source = VectorSource(data, frame)
    view = View.fitted(frame, source.bounds, 240, 200)
    for words, parts in looks(theirs, kind).items():
        layer = Layer.model_validate({"id": "a", "name": "A", "dataset": "d", **parts})
        pass_ = pass_of(layer, lambda *_: source)
        picture = paint(Composition([pass_], [], Furniture()), view, ground=False)
        assert (picture[..., 3] > 0).any(), (theirs.file, words)
        assert key_pixels([layer_key(pass_)]).size, (theirs.file, words)


def test_a_mistake_in_an_expression_is_not_blamed_on_the_filter(tmp_path: Path) -> None:
    """Wards of Tokyo have their codes as texts."""
    source = VectorSource(read(AREAS[2], tmp_path))
    looks = {"colour": classes('AreaID * "GEOCODE"')}
    layer = Layer.model_validate(
        {"id": "a", "name": "A", "dataset": "d", "symbology": {"kind": "symbols", "encodings": looks}}
    )
    with pytest.raises(CannotDraw, match="An expression of its symbology: Line 1, column .*'GEOCODE' is a text"):
        pass_of(layer, lambda *_: source)
    with pytest.raises(CannotDraw, match="Its filter: Line 1"):
        pass_of(layer.model_copy(update={"filter": "AreaID >"}), lambda *_: source)


@pytest.mark.parametrize("theirs", [AREAS[0], AREAS[2], POINTS[2], LINES[0]], ids=lambda theirs: Path(theirs.file).stem)
def test_readers_can_ask_what_they_like_of_it(theirs: Theirs, tmp_path: Path) -> None:
    """Filters, search, key, distance, cards and labels, published with what each file has for it."""
    data = read(theirs, tmp_path)
    write_geojson(data, tmp_path / "theirs.geojson")
    layer = {
        "id": "a", "name": "Theirs", "dataset": "theirs.geojson",
        "symbology": {"kind": "symbols", "encodings": {"colour": classes(theirs.first, method="equal-interval", classes=3)}},
        "lettering": {"lines": [{"text": f"{{{theirs.name}}}"}], "smallest": 7, "throughout": data.kind == "areas", "course": "curved" if data.kind != "points" else "level"},
        "card": f"### {{{{ {theirs.name} }}}}\n\n| | |\n|-|-|\n| value | {{{{ {theirs.first} | number: 1 }}}} |\n\n{{{{ {theirs.first} | bar: 100 }}}}",
    }  # fmt: skip
    reader = {
        "filters": [
            {"kind": "range", "layer": "a", "field": theirs.first, "title": "From, to"},
            {"kind": "choices", "layer": "a", "field": theirs.name, "title": "Which"},
        ],
        "search": [{"layer": "a", "field": theirs.name}], "near": {"layers": ["a"], "distance": 5}, "key_switches": True,
    }  # fmt: skip
    sheet = {"title": "Theirs", "layers": [layer], "reader": reader}
    (tmp_path / "t.sheet.json").write_text(json.dumps(sheet))
    plan = plan_edition(read_sheet(tmp_path / "t.sheet.json"), beside(tmp_path))
    last = min(plan.levels.max_zoom, plan.levels.min_zoom + 2)
    told = publish(
        plan_edition(read_sheet(tmp_path / "t.sheet.json"), beside(tmp_path), max_zoom=last), tmp_path / "e", 1
    )
    columns = gzip.decompress((tmp_path / "e" / told["layers"][0]["columns"]).read_bytes())
    header = json.loads(columns[4 : 4 + int.from_bytes(columns[:4], "little")])
    assert header["n"] == len(data)
    named = {field["name"]: field for field in header["fields"]}
    assert {theirs.first, theirs.name} <= set(named)
    histogram = told["reader"]["filters"][0]
    assert histogram["field"] == theirs.first
    card = json.loads((tmp_path / "e" / "cards" / "a" / "0.json").read_text())[str(int(data.fids[0]))]
    assert "<table>" in card and "<script" not in card
    assert len(told["key"][0]["sections"][0]["entries"]) >= 3
    assert (tmp_path / "e" / "index.html").read_text().count("<main") == 1


def test_cases_of_1901_to_1975_are_played_by_year(tmp_path: Path) -> None:
    """Burkitt's lymphoma in Uganda (Williams and others 1978), on the grid of its source, whichever ground that is."""
    data = read(Theirs("burkitt/burkitt.shp", "AGE", "T", "ID", "EPSG:3857"), tmp_path)
    write_geojson(data, tmp_path / "cases.geojson")
    layer = {"id": "a", "name": "Cases", "dataset": "cases.geojson", "symbology": {"kind": "symbols"}}
    for by in ("year", "quarter", "month", "week"):
        time = {"layer": "a", "field": "DATE", "by": by, "length": 2, "fade": True}
        sheet = {"title": "Cases", "layers": [layer], "reader": {"time": time}}
        (tmp_path / "t.sheet.json").write_text(json.dumps(sheet))
        told = publish(
            plan_edition(read_sheet(tmp_path / "t.sheet.json"), beside(tmp_path), max_zoom=14), tmp_path / by, 1
        )
        columns = gzip.decompress((tmp_path / by / told["layers"][0]["columns"]).read_bytes())
        header = json.loads(columns[4 : 4 + int.from_bytes(columns[:4], "little")])
        (field,) = [field for field in header["fields"] if field["name"] == "DATE"]
        assert field["kind"] == "date" and header["n"] == 188
        assert told["reader"]["time"]["by"] == by
