"""Every example in a docstring of the core says what really comes out."""

import doctest
import importlib
import pkgutil

import greylatch
import pytest

MODULES = sorted(one.name for one in pkgutil.walk_packages(greylatch.__path__, "greylatch."))


@pytest.mark.parametrize("name", MODULES)
def test_examples_hold(name: str) -> None:
    found = doctest.testmod(importlib.import_module(name), optionflags=doctest.NORMALIZE_WHITESPACE)
    assert found.failed == 0


def test_there_are_examples() -> None:
    finder = doctest.DocTestFinder(exclude_empty=True)
    shown = [one for name in MODULES for one in finder.find(importlib.import_module(name)) if one.examples]
    assert len(shown) > 25
