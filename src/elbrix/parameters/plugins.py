"""Families, angle kinds and clamping elements, each found by its module: a new module is a new one of them."""

from __future__ import annotations

import importlib
import os
from collections.abc import Iterator
from functools import cache
from types import ModuleType
from typing import Any, TypeVar

T = TypeVar("T")


@cache
def _module_names(paths: tuple[str, ...]) -> tuple[str, ...]:
    # `pkgutil.iter_modules` would do, but it loads `inspect`, which the start has no other use for.
    # Nor is a pattern matched, which would be compiled first.
    found = set()
    for folder in paths:
        with os.scandir(folder) as entries:
            for entry in entries:
                name, dot, end = entry.name.partition(".")
                if (end == "py") if dot else os.path.exists(os.path.join(entry.path, "__init__.py")):
                    found.add(name)
    return tuple(sorted(found - {"__init__"}))


def module_names(package: ModuleType) -> tuple[str, ...]:
    """Names of the package's modules, without loading any: the keys of what they keep."""
    return _module_names(tuple(package.__path__))


def find_one(package: ModuleType, name: str, attribute: str, protocol: type[T]) -> T | None:
    """The plugin of the module called like it, nothing else loaded; None when there is no such module."""
    if name not in _module_names(tuple(package.__path__)):
        return None
    return _plugin(package, name, attribute, protocol)  # type: ignore[arg-type]


def find_all(package: ModuleType, attribute: str, protocol: type[T]) -> Iterator[tuple[str, T]]:
    """(module's name, plugin) of every module that has one, by name.

    Args:
        package: Where the modules lie.
        attribute: The name each keeps its plugin under.
        protocol: What it must have the members of.
    """
    for name in _module_names(tuple(package.__path__)):
        if (plugin := _plugin(package, name, attribute, protocol)) is not None:  # type: ignore[arg-type]
            yield name, plugin


@cache  # a protocol is compared member by member, and a book asks for the family of each of its designs
def _plugin(package: ModuleType, name: str, attribute: str, protocol: type[T]) -> T | None:
    found: Any = getattr(importlib.import_module(f"{package.__name__}.{name}"), attribute, None)
    return found if isinstance(found, protocol) else None
