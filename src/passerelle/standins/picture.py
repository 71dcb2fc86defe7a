"""What a scope sees of a face: a picture with the dirt that lies on it."""

from __future__ import annotations

import io
import random

from PIL import Image, ImageDraw

SIDE = 480
FIELD_UM = 260.0


def face_picture(*, dirty: bool, core_um: float, name: str) -> bytes:
    """A face as PNG, 260 µm wide: cladding, core, and dirt where there is some."""
    scale, middle = SIDE / FIELD_UM, SIDE / 2
    picture = Image.new("L", (SIDE, SIDE), 40)
    draw = ImageDraw.Draw(picture)

    def disc(x: float, y: float, across_um: float, shade: int) -> None:
        r = across_um / 2 * scale
        draw.ellipse(
            (middle + x * scale - r, middle + y * scale - r, middle + x * scale + r, middle + y * scale + r), shade
        )

    disc(0, 0, 250, 120)
    disc(0, 0, 125, 165)
    disc(0, 0, core_um, 205)
    rng = random.Random(name)
    if dirty:
        for x, y, size in ((4.0, -6.0, 7.0), (22.0, 15.0, 9.0), (-38.0, 21.0, 12.0), (-60.0, -50.0, 16.0)):
            disc(x, y, size, 20)
    for _ in range(6):
        disc(rng.uniform(-100, 100), rng.choice((-1, 1)) * rng.uniform(80, 110), 2.0, 60)
    kept = io.BytesIO()
    picture.save(kept, "PNG")
    return kept.getvalue()
