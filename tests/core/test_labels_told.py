"""The command line's `labels`: boxes on the map beside what is drawn, and why others are not there."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from greylatch.cli.main import main
from PIL import Image

LINE = {"type": "Feature", "properties": {"name": "Long Ditch"}, "geometry": {"type": "LineString", "coordinates": [[-27.2, 52], [-26.8, 52.2]]}}  # fmt: skip


def sheet_in(folder: Path, features: list[dict[str, Any]], lettering: dict[str, Any]) -> Path:
    (folder / "data.geojson").write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    symbol = {"radius": 0, "fill_opacity": 0, "strokes": []}
    layer = {
        "id": "a", "name": "Names", "dataset": "data.geojson", "symbology": {"kind": "symbols", "symbol": symbol},
        "lettering": {"field": "name", "colour": "#000000", "halo": 0, **lettering},
    }  # fmt: skip
    path = folder / "a.sheet.json"
    path.write_text(
        json.dumps({"title": "Names", "layers": [layer], "furniture": {"ground": "#ffffff", "scale_bar": False}})
    )
    return path


def told(capsys: pytest.CaptureFixture[str], *arguments: str) -> Any:
    assert main(["labels", *arguments, "--json"]) == 0
    return json.loads(capsys.readouterr().out)


def point(name: str, lon: float, lat: float = 52) -> dict[str, Any]:
    return {
        "type": "Feature",
        "properties": {"name": name},
        "geometry": {"type": "Point", "coordinates": [lon, lat]},
    }


def test_boxes_are_where_ink_is(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A picture of the same level, drawn by the same command line: its ink lies within the boxes, and reaches near their sides."""
    path = sheet_in(
        tmp_path, [point("Upper Skara", -27), point("Ness", -26.9, 52.05), LINE], {"size": 20, "along": True}
    )
    found = told(capsys, str(path), "--zoom", "11")
    assert [label["text"] for label in found["placed"]] == ["Upper Skara", "Ness"], "a dataset of points has no lines"
    path = sheet_in(tmp_path, [point("Upper Skara", -27), point("Ness", -26.9, 52.05)], {"size": 20})
    found = told(capsys, str(path), "--zoom", "11")["placed"]
    out = tmp_path / "a.png"
    assert (
        main(
            [
                "draw",
                str(path),
                "--out",
                str(out),
                "--zoom",
                "11",
                "--bbox",
                "-27.1,51.95,-26.8,52.1",
                "--size",
                "900x700",
            ]
        )
        == 0
    )
    dark = np.asarray(Image.open(out).convert("L")) < 128
    rows, columns = np.nonzero(dark)
    # The picture's middle is that of its box in the map's px, from the upper left of level 11.
    side = 256 * 2**11
    x = (np.mean([-27.1, -26.8]) + 180) / 360 * side
    latitudes = np.radians([51.95, 52.1])
    y = float(np.mean((1 - np.arcsinh(np.tan(latitudes)) / np.pi) / 2 * side))
    at = np.column_stack([columns + x - 450, rows + y - 350])
    boxes = np.array([label["box"] for label in found])
    inside = ((at[:, None, :] >= boxes[:, :2] - 1) & (at[:, None, :] <= boxes[:, 2:] + 1)).all(axis=2)
    assert inside.any(axis=1).all()
    for i in range(len(boxes)):
        mine = at[inside[:, i]]
        assert abs(mine[:, 0].min() - boxes[i, 0]) < 4 and abs(mine[:, 0].max() - boxes[i, 2]) < 4


def test_labels_that_follow_a_line_say_their_angle(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = sheet_in(tmp_path, [LINE], {"along": True})
    [label, *others] = told(capsys, str(path), "--zoom", "11")["placed"]
    assert -45 < label["angle"] < -30 and others, "repeated along it"
    left, top, right, bottom = label["box"]
    assert bottom - top > 20 and right - left > 20
    assert told(capsys, str(path), "--zoom", "4")["left_out"] == [
        {"layer": "a", "fid": 0, "why": "its line is too short or too bent"}
    ]


def test_why_labels_are_left_out(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    crowd = [point("Crowded Place", -27 + 1e-6 * i) for i in range(12)]
    path = sheet_in(tmp_path, [*crowd, point("\ue123", -26)], {})
    found = told(capsys, str(path), "--zoom", "10")
    why = {each["fid"]: each["why"] for each in found["left_out"]}
    assert why.pop(12) == "no typeface has all of its letters"
    assert len(why) >= 3 and set(why.values()) == {"others are in the way"}
    boxes = np.array([label["box"] for label in found["placed"]])
    for i, one in enumerate(boxes):
        for other in boxes[i + 1 :]:
            assert one[0] >= other[2] or other[0] >= one[2] or one[1] >= other[3] or other[1] >= one[3]
    near = told(capsys, str(path), "--zoom", "10", "--bbox", "-26.1,51.9,-25.9,52.1")
    assert near["placed"] == [] and [each["fid"] for each in near["left_out"]] == [12]


def test_the_demo_says_the_same_twice_and_mistakes_are_named(demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    sheet = str(demo / "carbon.sheet.json")
    first = told(capsys, sheet, "--zoom", "12")
    assert told(capsys, sheet, "--zoom", "12") == first
    assert len(first["placed"]) > 50 and {label["layer"] for label in first["placed"]} == {"carbon", "isles"}
    assert main(["labels", sheet, "--zoom", "12"]) == 0
    assert "left out" in capsys.readouterr().out
    for bad in (["--zoom", "99"], ["--zoom", "9", "--bbox", "1,2,3"]):
        assert main(["labels", sheet, *bad]) == 2
    assert "is not a box" in capsys.readouterr().err
