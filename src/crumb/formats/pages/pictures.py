"""Pictures of pages: PNG, JPEG, TIFF and WebP, told by their content and bounded in pixels."""

from io import BytesIO

import numpy as np
from PIL import Image, ImageOps

from crumb.core.errors import UnreadableFile
from crumb.formats.pages.ink import Grey
from crumb.formats.pages.limits import HIGHEST, MOST_PAGES, MOST_PIXELS, WIDEST

_KINDS = ("PNG", "JPEG", "TIFF", "WEBP")


def is_picture(data: bytes) -> bool:
    """Whether a file begins as a picture does that can be read."""
    return data.startswith((b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff", b"II*\x00", b"MM\x00*")) or (
        data[:4] == b"RIFF" and data[8:12] == b"WEBP"
    )


def count_of(data: bytes) -> int:
    """How many pages a picture has: a TIFF may have several.

    Raises:
        UnreadableFile: it is no picture, or has too many.
    """
    with _Opened(data) as picture:
        count = int(getattr(picture, "n_frames", 1))
    if count > MOST_PAGES:
        raise UnreadableFile(
            f"This picture has {count} pages. Bring in at most {MOST_PAGES} at a time."
        )
    return count


def read_picture_page(data: bytes, number: int) -> Grey:
    """A page of a picture in grey, upright as the camera says, no larger than is worth reading.

    Raises:
        UnreadableFile: it cannot be read.
    """
    with _Opened(data) as picture:
        try:
            if number:
                picture.seek(number)
            if picture.width * picture.height > MOST_PIXELS:
                raise UnreadableFile(_TOO_LARGE)
            if picture.format == "JPEG":
                picture.draft("L", (WIDEST, HIGHEST))
            upright = ImageOps.exif_transpose(picture)
            on_white = _on_white(upright)
            share = min(WIDEST / on_white.width, HIGHEST / on_white.height, 1.0)
            if share < 1:
                size = (
                    max(1, round(on_white.width * share)),
                    max(1, round(on_white.height * share)),
                )
                on_white = on_white.resize(size, Image.Resampling.LANCZOS)
            return np.array(on_white, dtype=np.uint8)
        except UnreadableFile:
            raise
        except (OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError) as error:
            raise UnreadableFile("This picture is damaged.") from error


_TOO_LARGE = (
    f"This picture has more than {MOST_PIXELS // 1_000_000} million pixels."
    " Save it smaller: 300 dots an inch are enough."
)


class _Opened:
    """A picture that is closed at the end."""

    def __init__(self, data: bytes) -> None:
        try:
            self._picture = Image.open(BytesIO(data), formats=_KINDS)
        except Image.DecompressionBombError as error:
            raise UnreadableFile(_TOO_LARGE) from error
        except (OSError, ValueError, SyntaxError) as error:
            raise UnreadableFile("This picture is damaged.") from error

    def __enter__(self) -> Image.Image:
        return self._picture

    def __exit__(self, *_: object) -> None:
        self._picture.close()


def _on_white(picture: Image.Image) -> Image.Image:
    """The picture in grey; what can be seen through is paper."""
    if picture.mode in ("RGBA", "LA", "PA") or "transparency" in picture.info:
        clear = picture.convert("RGBA")
        white = Image.new("RGBA", clear.size, "white")
        white.alpha_composite(clear)
        return white.convert("L")
    if picture.mode in ("I", "I;16", "I;16B", "F"):
        values = np.asarray(picture, dtype=np.float64)
        top = float(values.max()) or 1.0
        return Image.fromarray((values / top * 255).astype(np.uint8))
    return picture.convert("L")
