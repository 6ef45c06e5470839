"""Class breaks of a field, of an expression, or of a raster's band."""

import argparse
from typing import Any

import numpy as np
from numpy.typing import NDArray

from greylatch.classes.classify import NO_DATA, Classification, classify
from greylatch.cli.printing import print_json
from greylatch.errors import BadInput
from greylatch.formats.files import read_file
from greylatch.formats.kinds import file_kind
from greylatch.wording import number_text

__all__ = ["classify_field"]


def classify_field(arguments: argparse.Namespace) -> None:
    """Print the classes of a field, of an expression, or of a raster's band."""
    if arguments.breaks is not None and arguments.method != "manual":
        raise BadInput("--breaks goes with --method manual.")
    if arguments.method == "manual" and not arguments.breaks:
        raise BadInput("--method manual wants --breaks a,b,c.")
    if arguments.nice and arguments.method == "manual":
        raise BadInput("--nice goes with limits that are computed.")
    values, weights, described, notes = _classified(arguments)
    limits = _numbers(arguments.breaks) if arguments.breaks else None
    classification = classify(values, arguments.method, arguments.classes, limits, weights, arguments.nice)
    notes += [classification.note] if classification.note else []
    if arguments.json:
        heavy = [{}] * len(classification.classes) if weights is None else _weights_of(classification, weights)
        print_json(
            {
                "method": classification.method, **described, "n": classification.n, "missing": classification.missing, "fit": classification.fit,
                "classes": [
                    {"lower": value_class.lower, "upper": value_class.upper, "count": value_class.count, **more}
                    for value_class, more in zip(classification.classes, heavy, strict=True)
                ],
                **({"note": " ".join(notes)} if notes else {}),
            }
        )  # fmt: skip
        return
    print(
        f"{classification.method} · {len(classification.classes)} classes · fit {classification.fit:.3f} · {classification.missing} missing"
    )
    for note in notes:
        print(f"note: {note}")
    for value_class in classification.classes:
        print(
            f"  {number_text(value_class.lower, digits=6):>16} – {number_text(value_class.upper, digits=6):<16} {value_class.count:>8,}"
        )


def _classified(
    arguments: argparse.Namespace,
) -> tuple[NDArray[np.float64], NDArray[np.float64] | None, dict[str, Any], list[str]]:
    """The values to be classified, how much each counts, what they are, and what is to be said of them."""
    if file_kind(arguments.file).holds == "raster":
        from greylatch.rasters.values import band_values

        if arguments.field or arguments.weight or arguments.normalise_by:
            raise BadInput("A raster has bands and no fields: --band N.")
        values, note = band_values(arguments.file, arguments.band or 1)
        return values, None, {"band": arguments.band or 1}, [note] if note else []
    from greylatch.classes.values import numbers_of, values_of
    from greylatch.sheet.parts import NormaliseByField

    if arguments.band is not None:
        raise BadInput("--band goes with a raster.")
    if not arguments.field:
        raise BadInput("--field FIELD says what is to be classified.")
    normalise = NormaliseByField(field=arguments.normalise_by) if arguments.normalise_by else None
    data = read_file(arguments.file, crs=arguments.crs, placed=False).dataset.described()
    weights = numbers_of(data, arguments.weight) if arguments.weight else None
    return values_of(data, arguments.field, normalise), weights, {"field": arguments.field}, []


def _weights_of(classification: Classification, weights: NDArray[np.float64]) -> list[dict[str, float]]:
    """What each class weighs."""
    classed = classification.index != NO_DATA
    heavy = np.nan_to_num(weights[classed], nan=0.0, posinf=0.0, neginf=0.0)
    sums = np.bincount(classification.index[classed], weights=heavy, minlength=len(classification.classes))
    return [{"weight": float(total)} for total in sums]


def _numbers(text: str) -> list[float]:
    try:
        return [float(part) for part in text.split(",")]
    except ValueError as error:
        raise BadInput(f"'{text}' is not a list of numbers.", "Write the breaks as 10,20,30.") from error
