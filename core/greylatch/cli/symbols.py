"""What marks can be made of, as a list for other programs."""

import argparse
from typing import get_args

from greylatch.cli.printing import print_json
from greylatch.colour.ramps import RAMPS, ramp_colours
from greylatch.sheet.layers import Blend, Effects
from greylatch.sheet.parts import Pattern, RampChoice
from greylatch.symbols.shapes import SHAPES

__all__ = ["print_symbols"]

STEPS = 5


def print_symbols(arguments: argparse.Namespace) -> None:
    """Print point shapes, patterns, ramps, blends and effects with their names."""
    listed = [
        *({"kind": "shape", "name": name, "path": path} for name, path in SHAPES.items()),
        *({"kind": "pattern", "name": name} for name in get_args(Pattern.model_fields["kind"].annotation)),
        *(
            {"kind": "ramp", "name": ramp.name, "family": ramp.family, "colours": ramp_colours(RampChoice(name=ramp.name), STEPS)}
            for ramp in RAMPS.values()
        ),
        *({"kind": "blend", "name": name} for name in get_args(Blend)),
        *({"kind": "effect", "name": name} for name in Effects.model_fields),
    ]  # fmt: skip
    print_json(listed)
