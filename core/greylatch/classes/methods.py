"""The names of the methods of classification."""

from typing import Literal, get_args

__all__ = ["MAX_CLASSES", "METHODS", "Method"]

Method = Literal[
    "equal-interval", "quantile", "natural-breaks", "standard-deviation", "pretty", "geometric", "head-tail", "manual"
]
METHODS: tuple[str, ...] = get_args(Method)
MAX_CLASSES = 64
