"""What the core raises where it is given something that it cannot take. One tree::

    CoreError                what was given is wrong; the message says what to do
      x UnitError            a text that cannot be read as a length, a number or a speed
          x DoubtfulNumberError  a comma that may group digits or mark a decimal
      x CatalogError         a data file that is not right, or a name that the catalog does not have
      x NoAnswerError        nothing in the catalog answers the question
      x KindError            a kind of piece that is only half described
      x UpgradeError         a plan of an older version that is not as that version was
      + FieldError           as above; ``field`` names what is wrong
          x EditError        a change of a link that cannot be made
          x PlantError       a plant that contradicts itself
          x MaterialError    lengths, cuts, labels or a delivery that cannot be taken
          x AcceptanceError  a test, a reference or a record of one that cannot be taken
          x TurnUpError      module pages, a network, a diagnosis or a log entry that cannot be taken

All of them are a ``ValueError``: a program that only wants to know that the input was wrong can catch that.
"""

from __future__ import annotations


class CoreError(ValueError):
    """What was given is wrong; the message holds the offending value and says what to do."""


class UnitError(CoreError):
    """A text that cannot be read as a length. The message says what to type instead."""


class DoubtfulNumberError(UnitError):
    """A comma before exactly three digits. ``readings`` are the two ways to type it: grouped, then decimal."""

    def __init__(self, typed: str, readings: tuple[str, str]) -> None:
        grouped, decimal = readings
        super().__init__(f"'{typed}' can mean {grouped} or {decimal}: type it without the comma, or with a point")
        self.typed = typed
        self.readings = readings


class CatalogError(CoreError):
    """A data file that is not right, or a name that the catalog does not have."""


class NoAnswerError(CoreError):
    """Nothing in the catalog answers the question; the message says what came closest and why it is out."""


class KindError(CoreError):
    """A kind of piece that is half described, or registered twice or too late."""


class UpgradeError(CoreError):
    """A plan of an older version that is not as that version was; the message names the place."""


class FieldError(CoreError):
    """What was given is wrong in one ``field``."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


class EditError(FieldError):
    """A change that cannot be made. ``field`` names what is wrong, the message says what to do."""


class PlantError(FieldError):
    """A plant that contradicts itself. ``field`` names the row and column, such as ``ways[quay].to``."""


class MaterialError(FieldError):
    """Lengths, cuts, labels or a delivery that cannot be taken. ``field`` names the place in what was given."""


class AcceptanceError(FieldError):
    """A test, a reference or a record of one that cannot be taken. ``field`` names it, the message says what to
    do.
    """


class TurnUpError(FieldError):
    """Module pages, a network, a diagnosis or a log entry that cannot be taken. ``field`` names the place."""
