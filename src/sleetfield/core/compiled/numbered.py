"""What the compiled engine knows by a number."""

from __future__ import annotations

from typing import Any, ClassVar


class Numbered:
    """Base of equations of which some are in the compiled engine too. A subclass of one that is there is not, unless it says so."""

    number: ClassVar[int | None] = None

    def __init_subclass__(cls, **kwargs: Any) -> None:
        super().__init_subclass__(**kwargs)
        cls.number = vars(cls).get("number")
