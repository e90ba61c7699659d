"""Recordings as phones make them become sound alone; FFmpeg itself makes and reads them back."""

import subprocess
from pathlib import Path

import pytest

from crumb.core.errors import UnreadableFile
from crumb.formats.sound import to_mp3

TONE = "sine=frequency=440:duration=3"
PICTURE = "testsrc=duration=3:size=64x48:rate=5"


def made(folder: Path, name: str, *arguments: str) -> bytes:
    """A recording by FFmpeg."""
    target = folder / name
    command = ["ffmpeg", "-loglevel", "error", *arguments, str(target)]
    subprocess.run(command, check=True)
    return target.read_bytes()


def told(folder: Path, data: bytes) -> str:
    """What FFmpeg says of a file: its streams and everything written about it."""
    file = folder / "told.mp3"
    file.write_bytes(data)
    command = ["ffprobe", "-loglevel", "error", "-show_streams", "-show_format", str(file)]
    return subprocess.run(command, check=True, capture_output=True, text=True).stdout


@pytest.mark.parametrize("name", ["a.wav", "a.mp3", "a.ogg", "a.flac", "a.m4a", "a.webm"])
def test_common_recordings_keep_their_length(tmp_path: Path, name: str):
    sound = to_mp3(made(tmp_path, name, "-f", "lavfi", "-i", TONE), longest=600)
    assert abs(sound.seconds - 3) < 0.2
    assert "codec_name=mp3" in told(tmp_path, sound.data)


def test_a_video_leaves_its_picture_and_where_it_was_made_behind(tmp_path: Path):
    video = made(
        tmp_path,
        "a.mov",
        *("-f", "lavfi", "-i", PICTURE, "-f", "lavfi", "-i", TONE),
        *("-metadata", "title=At home", "-metadata", "location=+38.7-009.1/"),
    )
    assert b"+38.7-009.1" in video
    sound = to_mp3(video, longest=600)
    said = told(tmp_path, sound.data)
    assert said.count("codec_type=") == 1
    assert "codec_type=audio" in said
    assert b"At home" not in sound.data
    assert b"38.7" not in sound.data


def test_a_picture_without_sound_is_no_recording(tmp_path: Path):
    with pytest.raises(UnreadableFile, match="no recording"):
        to_mp3(made(tmp_path, "a.mp4", "-f", "lavfi", "-i", PICTURE), longest=600)


def test_what_comes_after_the_longest_is_left_out(tmp_path: Path):
    sound = to_mp3(made(tmp_path, "a.wav", "-f", "lavfi", "-i", TONE), longest=1)
    assert abs(sound.seconds - 1) < 0.2


def test_a_file_that_names_another_file_reads_nothing(tmp_path: Path):
    secret = tmp_path / "secret.wav"
    made(tmp_path, "secret.wav", "-f", "lavfi", "-i", TONE)
    lists = [
        f"#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n{secret}\n#EXT-X-ENDLIST\n",
        f"ffconcat version 1.0\nfile '{secret}'\n",
        f"<?xml version='1.0'?><MPD><Period><BaseURL>file://{secret}</BaseURL></Period></MPD>",
    ]
    for text in lists:
        with pytest.raises(UnreadableFile):
            to_mp3(text.encode(), longest=600)
