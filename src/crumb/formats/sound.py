"""Recordings of phones and recorders turned into MP3, which every browser plays (by FFmpeg).

A picture is left out, and so is all that a file says beside its sound: where it was made, say.
"""

import subprocess
import tempfile
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from crumb.core.errors import UnreadableFile

FORMATS = "aac,aiff,flac,m4a,matroska,mov,mp3,mp4,ogg,wav,webm"
"""What is read. No lists that name other files, and nothing from a network."""
_SECONDS = 90
_BAD = "This is no recording that Crumb can read. Audio or video as phones make it is fine."


@dataclass(frozen=True, slots=True)
class Sound:
    """MP3, and how long it is."""

    data: bytes
    seconds: Fraction


def to_mp3(data: bytes, *, longest: int) -> Sound:
    """The sound of a recording, one channel, without what else the file says.

    Args:
        data: audio, or video with sound.
        longest: seconds; what comes after is left out.

    Raises:
        UnreadableFile: there is no sound in it that can be read.
    """
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "in", Path(folder) / "out.mp3"
        source.write_bytes(data)
        _run(
            *("ffmpeg", "-nostdin", "-hide_banner", "-loglevel", "error", "-threads", "1"),
            *("-protocol_whitelist", "file", "-format_whitelist", FORMATS, "-i", str(source)),
            *("-map", "0:a:0", "-map_metadata", "-1", "-map_chapters", "-1", "-vn", "-sn", "-dn"),
            *("-ac", "1", "-ar", "44100", "-t", str(longest), "-c:a", "libmp3lame"),
            *("-b:a", "96k", "-threads", "1", "-f", "mp3", str(target)),
        )
        told = _run(
            *("ffprobe", "-loglevel", "error", "-protocol_whitelist", "file", "-f", "mp3"),
            *("-show_entries", "format=duration", "-of", "csv=p=0", str(target)),
        )
        try:
            seconds = Fraction(told.strip()).limit_denominator(1000)
        except ValueError as error:
            raise UnreadableFile(_BAD) from error
        if seconds <= 0:
            raise UnreadableFile(_BAD)
        return Sound(target.read_bytes(), seconds)


def _run(*command: str) -> str:
    try:
        done = subprocess.run(  # noqa: S603 - our own words, no shell
            command, capture_output=True, text=True, errors="replace", timeout=_SECONDS, check=False
        )
    except subprocess.TimeoutExpired as error:
        raise UnreadableFile(_BAD) from error
    if done.returncode != 0:
        raise UnreadableFile(_BAD)
    return done.stdout
