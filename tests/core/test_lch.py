"""Colours by lightness, chroma and hue. Referee: Ottosson's OKLab (2020, "A perceptual color space for image processing"), worked out here from its
published matrices; they are written from memory and checked by white, which they must take to (1, 0, 0)."""

from itertools import pairwise

import numpy as np
import pytest
from greylatch.colour.lch import MOST_CHROMA, STEPS, Lch, colour_at, lch_of, strips_through
from greylatch.colour.ramps import ramp_matched, ramp_refined
from greylatch.errors import BadInput
from numpy.typing import NDArray

TO_CONES = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


def oklab(colour: str) -> NDArray[np.float64]:
    encoded = np.array(list(bytes.fromhex(colour[1:]))) / 255
    linear = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    return np.asarray(TO_LAB @ np.cbrt(TO_CONES @ linear))


def test_the_referee_knows_white() -> None:
    assert oklab("#ffffff") == pytest.approx([1, 0, 0], abs=1e-6)


@pytest.mark.parametrize(
    "colour", ["#ff0000", "#00ff00", "#0000ff", "#7c4f74", "#f0e442", "#123456", "#ffffff", "#000000"]
)
def test_coordinates_are_ottossons_and_lead_back(colour: str) -> None:
    lightness, a, b = oklab(colour)
    place = lch_of(colour)
    assert place.lightness == pytest.approx(lightness, abs=2e-4)
    assert place.chroma == pytest.approx(np.hypot(a, b), abs=2e-4)
    if place.chroma:
        assert place.hue == pytest.approx(np.degrees(np.arctan2(b, a)) % 360, abs=0.05)
    back = np.array(list(bytes.fromhex(colour_at(place)[1:])), dtype=int) - list(bytes.fromhex(colour[1:]))
    assert np.abs(back).max() <= 1


def test_where_a_screen_has_no_colour_lightness_and_hue_are_kept() -> None:
    for hue in range(0, 360, 30):
        got = lch_of(colour_at(Lch(0.7, MOST_CHROMA, hue)))
        assert got.lightness == pytest.approx(0.7, abs=0.02)
        # CSS Color 4 (section 13.2) lets the last step be clipped, as far as that can just be seen: a few degrees.
        assert abs((got.hue - hue + 180) % 360 - 180) < 6
        assert got.chroma < MOST_CHROMA


def test_strips_go_from_end_to_end_through_the_colour() -> None:
    strips = strips_through(lch_of("#7c4f74"))
    assert all(len(strip) == STEPS + 1 for strip in strips.values())
    lightness = [lch_of(colour).lightness for colour in strips["lightness"]]
    assert lightness == sorted(lightness) and lightness[0] == 0 and lightness[-1] == 1
    assert lch_of(strips["chroma"][0]).chroma == 0
    assert strips["hue"][0] == strips["hue"][-1]


@pytest.mark.parametrize("place", [Lch(-0.1, 0, 0), Lch(1.1, 0, 0), Lch(0.5, -0.2, 0), Lch(0.5, 2, 0)])
def test_what_no_colour_has_is_said(place: Lch) -> None:
    with pytest.raises(BadInput, match="Lightness goes from"):
        colour_at(place)


@pytest.mark.parametrize("ground", ["#ffffff", "#e3e9e8", "#808080", "#22282b", "#000000"])
@pytest.mark.parametrize(
    "stops", [["#f0e8f0", "#7c4f74", "#2a1430"], ["#111111", "#eeeeee"], ["#aa2222", "#eeeeee", "#2222aa"]]
)
def test_a_ramp_is_matched_to_its_ground(ground: str, stops: list[str]) -> None:
    """Its low end is the one that can hardly be told from the ground, its high end stands out, and hues stay (all measured by `oklab` above)."""
    matched = ramp_matched(stops, ground)
    away = [abs(oklab(colour)[0] - oklab(ground)[0]) for colour in matched]
    assert away == sorted(away) and away[-1] > 0.3
    assert 0.05 < away[0] < 0.13
    for before, after in zip(stops, matched, strict=True):
        first, second = lch_of(before), lch_of(after)
        # The hue of what is nearly grey is hardly there.
        if first.chroma > 0.05 and second.chroma > 0.05:
            assert abs((first.hue - second.hue + 180) % 360 - 180) < 8


def test_steps_of_lightness_stay_in_proportion() -> None:
    stops = ["#ffffff", "#c6c6c6", "#000000"]
    before, after = ([oklab(colour)[0] for colour in colours] for colours in (stops, ramp_matched(stops, "#e3e9e8")))
    share = [(lightness[1] - lightness[0]) / (lightness[2] - lightness[0]) for lightness in (before, after)]
    assert share[1] == pytest.approx(share[0], abs=0.02)


@pytest.mark.parametrize(
    "stops", [["#dff4ea", "#2f8f6b", "#00341f"], ["#ffffff", "#000000"], ["#aa2222", "#eeeeee", "#2222aa"]]
)
def test_a_stop_more_lies_amid_the_widest_step(stops: list[str]) -> None:
    """All stops of before stay in their order, and the new one is as far from both its neighbours, in OKLab by the formulas above."""
    refined = ramp_refined(stops)
    assert [colour for colour in refined if colour in stops] == stops and len(set(refined)) == len(stops) + 1
    at = next(i for i, colour in enumerate(refined) if colour not in stops)
    places = [np.array(oklab(colour)) for colour in refined]
    before, after = np.linalg.norm(places[at] - places[at - 1]), np.linalg.norm(places[at + 1] - places[at])
    assert before == pytest.approx(after, abs=0.01)
    widest = max(np.linalg.norm(np.subtract(oklab(low), oklab(high))) for low, high in pairwise(stops))
    assert before + after == pytest.approx(widest, abs=0.01)
