"""How layers begin, and what a symbology keeps when it becomes one of another kind."""

import pytest
from greylatch.errors import BadInput
from greylatch.sheet.document import (
    Classed,
    Classing,
    Graduated,
    Hillshade,
    NormaliseByArea,
    RampChoice,
    Single,
    Stroke,
)
from greylatch.symbols.starting import first_layer, first_lettering, turned_into


def test_a_layer_begins_with_a_look_that_suits_its_data() -> None:
    assert first_layer("a", "Heights", "raster", "one band").symbology.kind == "raster-ramp"
    assert first_layer("a", "From the air", "raster", "rgb").symbology.kind == "picture"
    for kind in ("areas", "lines", "points"):
        assert first_layer("a", "Peat", kind).symbology.kind == "single"  # type: ignore[arg-type]
    assert len(first_layer("a", "x" * 500, "areas").name) == 200


def test_labels_begin_with_the_field_that_is_likeliest_to_hold_names() -> None:
    fields = [("code", "text", "identifier"), ("isle", "text", "name"), ("ha", "number", "measure")]
    assert [first_lettering(fields[n:]).field for n in range(3)] == ["isle", "isle", "ha"]  # type: ignore[arg-type, union-attr]
    assert first_lettering([]) is None


def test_numbers_are_shown_by_size_for_points_and_by_colour_for_the_rest() -> None:
    plain = Single(fill="#102030", stroke=Stroke(width=3))
    sized = turned_into(plain, "points", field="depth")
    assert isinstance(sized, Graduated) and sized.classing.field == "depth" and sized.fill == "#102030"
    coloured = turned_into(plain, "areas", field="depth")
    assert isinstance(coloured, Classed) and coloured.stroke.width == 3


def test_classes_field_stroke_and_ramp_are_taken_along() -> None:
    classing = Classing(field="t", normalise=NormaliseByArea(), method="quantile", classes=4)
    classed = Classed(classing=classing, ramp=RampChoice(name="upland", reverse=True), stroke=Stroke(width=2))
    sized = turned_into(classed, "points", "graduated")
    assert isinstance(sized, Graduated) and sized.classing == classing and sized.stroke.width == 2
    round_ = turned_into(sized, "points", "proportional")
    assert (round_.field, round_.normalise) == ("t", NormaliseByArea())  # type: ignore[union-attr]
    back = turned_into(round_, "points", "classed")
    assert isinstance(back, Classed) and back.classing.normalise == NormaliseByArea()
    assert turned_into(classed, "areas", "single").stroke.width == 2
    assert turned_into(classed, "areas", "classed").ramp == classed.ramp  # type: ignore[union-attr]


def test_what_cannot_be_drawn_so_is_said() -> None:
    with pytest.raises(BadInput, match="no field of numbers"):
        turned_into(Single(), "areas", "classed")
    with pytest.raises(BadInput, match="need points"):
        turned_into(Single(), "lines", "graduated", "t")
    with pytest.raises(BadInput, match="not drawn by symbols"):
        turned_into(Hillshade(), "raster", "single")
