"""Ramps, colour difference, contrast and colour vision."""

import colour
import numpy as np
import pytest
from coloraide import Color
from greylatch.colour.difference import contrast, difference, seen_as
from greylatch.colour.ramps import RAMPS, ramp_colours
from greylatch.errors import BadInput
from greylatch.sheet.parts import RampChoice


def hexes(count: int) -> list[str]:
    rng = np.random.default_rng(5)
    return ["#" + "".join(f"{v:02x}" for v in rng.integers(0, 256, 3)) for _ in range(count)]


def to_lab(hexed: str) -> np.ndarray:
    rgb = np.array([int(hexed[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    return colour.XYZ_to_Lab(
        colour.sRGB_to_XYZ(rgb), colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    )


def test_ciede2000_published_pair() -> None:
    """Sharma, Wu and Dalal (2005), first test pair; the value is quoted from memory and agrees with colour-science."""
    first, second = Color("lab-d65", [50, 2.6772, -79.7751]), Color("lab-d65", [50, 0, -82.7485])
    assert first.delta_e(second, method="2000") == pytest.approx(2.0425, abs=5e-4)


def test_difference_as_colour_science() -> None:
    for a, b in zip(hexes(20), reversed(hexes(20)), strict=True):
        theirs = colour.delta_E(to_lab(a), to_lab(b), method="CIE 2000")
        assert difference(a, b) == pytest.approx(theirs, abs=0.05)


def test_contrast_of_wcag() -> None:
    """WCAG 2.2: black on white is 21; #767676 on white is 4.54 (from memory of the Understanding document)."""
    assert contrast("#000000", "#ffffff") == 21
    assert contrast("#ffffff", "#767676") == pytest.approx(4.54, abs=0.005)


@pytest.mark.parametrize(
    ("vision", "theirs"), [("deutan", "Deuteranomaly"), ("protan", "Protanomaly"), ("tritan", "Tritanomaly")]
)
def test_colour_vision_as_machado(vision: str, theirs: str) -> None:
    """Machado, Oliveira and Fernandes (2009), severity 1, with the matrices in colour-science, on linear light."""
    matrix = colour.blindness.matrix_cvd_Machado2009(theirs, 1.0)
    for one in hexes(12):
        rgb = np.array([int(one[i : i + 2], 16) / 255 for i in (1, 3, 5)])
        linear = np.clip(matrix @ colour.cctf_decoding(rgb, function="sRGB"), 0, 1)
        expected = np.clip(colour.cctf_encoding(linear, function="sRGB"), 0, 1) * 255
        got = seen_as(one, vision)  # type: ignore[arg-type]
        assert [int(got[i : i + 2], 16) for i in (1, 3, 5)] == pytest.approx(expected, abs=2.5)


def test_there_are_ramps_of_every_family() -> None:
    families = [ramp.family for ramp in RAMPS.values()]
    assert len(families) >= 12
    assert all(families.count(one) >= 3 for one in ("sequential", "diverging", "qualitative"))


@pytest.mark.parametrize("name", [n for n, r in RAMPS.items() if r.family == "sequential" and n != "upland"])
def test_sequential_ramps_darken_evenly(name: str) -> None:
    """Lightness falls all the way, and no step is more than twice the mean step."""
    light = np.array([Color(c).convert("oklch")["lightness"] for c in ramp_colours(RampChoice(name=name), 9)])
    steps = -np.diff(light)
    assert (steps > 0).all()
    assert steps.max() < 2 * steps.mean()


@pytest.mark.parametrize("name", [n for n, r in RAMPS.items() if r.family == "diverging"])
def test_diverging_ramps_are_lightest_in_the_middle(name: str) -> None:
    light = [Color(c).convert("oklch")["lightness"] for c in ramp_colours(RampChoice(name=name), 9)]
    assert light.index(max(light)) == 4
    assert abs(light[0] - light[-1]) < 0.08


def test_reverse_and_replaced() -> None:
    plain = ramp_colours(RampChoice(name="peat"), 4)
    assert ramp_colours(RampChoice(name="peat", reverse=True), 4) == plain[::-1]
    assert ramp_colours(RampChoice(name="peat", replaced={0: "#123456"}), 4) == ["#123456", *plain[1:]]
    with pytest.raises(BadInput, match="no ramp 'rainbow'"):
        ramp_colours(RampChoice(name="rainbow"), 4)
