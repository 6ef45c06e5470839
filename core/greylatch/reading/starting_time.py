"""How features are played through time before anybody has said how."""

from datetime import timedelta

import pyarrow as pa
import pyarrow.compute as pc

from greylatch.sheet.reader import Time

__all__ = ["starting_time"]

STEPS = (
    ("hour", timedelta(hours=1)),
    ("day", timedelta(days=1)),
    ("week", timedelta(weeks=1)),
    ("month", timedelta(days=31)),
)
MOST_STEPS = 120
"""Steps up to which a finer one is taken: six a second in the twenty seconds that all of it takes. Ours, with no source."""


def starting_time(layer: str, field: str, dates: pa.ChunkedArray) -> Time:
    """By the finest step that the whole has few enough of: the six days of a riot by days, twenty years of storms by years.

    Parameters
    ----------
    layer : str
        The layer's id.
    field : str
        Its field of dates.
    dates : pa.ChunkedArray
        What stands there, as dates or timestamps.

    Returns
    -------
    Time

    Examples
    --------
    >>> days = pa.chunked_array([["1992-04-29", "1992-05-04"]]).cast(pa.date32())
    >>> starting_time("deaths", "on", days).by
    'day'
    """
    begun = Time(layer=layer, field=field)
    instants = dates.cast(pa.timestamp("ms"), safe=False).drop_null()
    if not len(instants):
        return begun
    ends = pc.min_max(instants).as_py()
    length = ends["max"] - ends["min"]
    timed = pc.any(pc.not_equal(instants, pc.floor_temporal(instants, unit="day"))).as_py()
    by = next((name for name, step in STEPS if length <= MOST_STEPS * step and (timed or name != "hour")), "year")
    return begun.model_copy(update={"by": by})
