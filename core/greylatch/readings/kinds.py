"""The kinds of readings that a layer may have. A new one is listed here and nowhere else."""

from typing import Annotated

from pydantic import Field

from greylatch.readings.centres import Centres
from greylatch.readings.contours import Contours
from greylatch.readings.dots import Dots
from greylatch.readings.grid import Grid
from greylatch.readings.rounds import Rounds

__all__ = ["AnyReading"]

AnyReading = Annotated[Centres | Grid | Dots | Rounds | Contours, Field(discriminator="by")]
