"""The text of a file that was sent: short ones are held, long ones lie in a file until somebody reads them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import PydanticKnownError, core_schema


@dataclass(frozen=True)
class LongText:
    """A text of ``length`` characters, in memory or in a file of the server's own.

    >>> LongText.of("a,b").read()
    'a,b'
    """

    length: int
    text: str = ""
    path: Path | None = None

    @classmethod
    def of(cls, text: str) -> LongText:
        """A text that is held."""
        return cls(len(text), text)

    @classmethod
    def laid_down(cls, text: str, path: Path) -> LongText:
        """A text that is written to a file, of which the text is read later."""
        path.write_bytes(text.encode("utf-8"))
        return cls(len(text), path=path)

    def read(self) -> str:
        """The text."""
        return self.text if self.path is None else self.path.read_bytes().decode("utf-8")

    def __len__(self) -> int:
        return self.length


class MostCharacters:
    """The marker of a field that takes a long text: as a string over the wire, bounded in characters."""

    def __init__(self, most: int) -> None:
        self.most = most

    def __get_pydantic_core_schema__(self, _source: Any, _handler: GetCoreSchemaHandler) -> core_schema.CoreSchema:
        def held(value: Any, check: core_schema.ValidatorFunctionWrapHandler) -> LongText:
            if not isinstance(value, LongText):
                return LongText.of(check(value))
            if len(value) > self.most:
                raise PydanticKnownError("string_too_long", {"max_length": self.most})
            return value

        return core_schema.no_info_wrap_validator_function(
            held,
            core_schema.str_schema(max_length=self.most),
            serialization=core_schema.plain_serializer_function_ser_schema(LongText.read),
        )

    def __get_pydantic_json_schema__(
        self, _schema: core_schema.CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        return handler(core_schema.str_schema(max_length=self.most))
