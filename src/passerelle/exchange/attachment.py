"""Traces and pictures that come in: what they are is read from their bytes, and their sizes are bounded."""

from __future__ import annotations

import io
import warnings
from typing import Literal

from passerelle.exchange.trace_record import TraceRecordError
from passerelle.exchange.trace_record_in import read_record

MediaType = Literal["image/png", "image/jpeg", "application/x-sor"]
MOST_PICTURE = 16 * 1024 * 1024
MOST_PIXELS = 24_000_000
_PICTURES: dict[str, MediaType] = {"PNG": "image/png", "JPEG": "image/jpeg"}


class AttachmentError(ValueError):
    """A file that is neither a trace record nor a picture that can be kept; the message says what to do."""


def media_type_of(body: bytes) -> MediaType:
    """What a file is.

    Raises:
        AttachmentError: too large, too many pixels, damaged, or of a kind that is not kept.
    """
    if body.startswith(b"Map\0"):
        try:
            read_record(body)
        except TraceRecordError as error:
            raise AttachmentError(str(error)) from error
        return "application/x-sor"
    from PIL import Image, UnidentifiedImageError

    if len(body) > MOST_PICTURE:
        raise AttachmentError("the picture is larger than 16 MiB: save it smaller")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(body)) as picture:
                kind, pixels = picture.format or "", picture.width * picture.height
                if pixels > MOST_PIXELS:
                    raise AttachmentError(f"the picture has {pixels / 1e6:.0f} million pixels: 24 million at most")
                picture.verify()
    except AttachmentError:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
        raise AttachmentError("this is no trace record (.sor) and no picture (PNG, JPEG)") from error
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise AttachmentError(f"the picture is damaged or cut short: {error}") from error
    if kind not in _PICTURES:
        raise AttachmentError(f"pictures are kept as PNG or JPEG, not as {kind}: save it again")
    return _PICTURES[kind]
