"""What can be asked, one module for each corner of the shop. Each lists its `TOPICS`."""

from __future__ import annotations

from functools import cache

from elbrix.answers.answer import Topic


@cache
def all_topics() -> tuple[Topic, ...]:
    """Every topic; of two that fit equally well the earlier answers."""
    from elbrix.answers.topics import blocks, cutting, finding, fitting, heads, lathe, pins, stuff, threads, tilts

    return tuple(
        t for module in (threads, heads, blocks, tilts, pins, stuff, fitting, cutting, lathe, finding) for t in module.TOPICS
    )
