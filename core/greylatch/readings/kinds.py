"""The kinds of readings that a layer may have. A new one is listed here and nowhere else."""

from typing import Annotated, get_args

from pydantic import Field

from greylatch.readings.centres import Centres
from greylatch.readings.contours import Contours
from greylatch.readings.dots import Dots
from greylatch.readings.grid import Grid
from greylatch.readings.reading import Reading
from greylatch.readings.rounds import Rounds

__all__ = ["KEEPING_ROWS", "READINGS", "AnyReading"]

AnyReading = Annotated[Centres | Grid | Dots | Rounds | Contours, Field(discriminator="by")]
READINGS: tuple[type[Reading], ...] = get_args(get_args(AnyReading)[0])
KEEPING_ROWS: tuple[str, ...] = tuple(reading.named() for reading in READINGS if reading.keeps_rows)
"""Those that make one mark of each row."""
