"""What the arrow to the north looks like."""

from pydantic import BaseModel, ConfigDict

__all__ = ["NORTH_ARROW", "NorthArrow"]


class NorthArrow(BaseModel):
    """SVG path data around (0, 0), in px, of an arrow that points up: its sunny and its shaded half, and its letter, which is a line. It
    reaches no further than `reach` px whichever way it is turned."""

    model_config = ConfigDict(frozen=True)

    light: str
    dark: str
    letter: str
    reach: float


NORTH_ARROW = NorthArrow(light="M0 -8L-7 17L0 12Z", dark="M0 -8L7 17L0 12Z", letter="M-3 -11V-18L3 -11V-18", reach=21.0)
