"""The examples in the docstrings of the core are true."""

from __future__ import annotations

import doctest
import pkgutil
from importlib import import_module

import pytest

import passerelle.core

MODULES = [one.name for one in pkgutil.walk_packages(passerelle.core.__path__, "passerelle.core.")]


@pytest.mark.parametrize("name", MODULES)
def test_the_examples_of_a_module_are_true(name: str) -> None:
    assert doctest.testmod(import_module(name)).failed == 0


def test_there_are_examples() -> None:
    found = sum(
        len(test.examples) for name in MODULES for test in doctest.DocTestFinder().find(import_module(name))
    )
    assert found > 20
