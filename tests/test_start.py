"""The start command: one clear sentence where it cannot start, everything stopped when it ends."""

import os
import signal
import socket
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest

from postgres import CannotStart, Cluster, free_port, port_is_free
from tests.conftest import ROOT

START = [sys.executable, str(ROOT / "tools" / "start.py")]


def start(*arguments: str, **env: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [*START, *arguments],
        env={**os.environ, **env},
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
    )


def test_a_wrong_word_is_told_the_right_ones():
    done = start("everything")
    assert done.returncode == 2
    assert "./start demo" in done.stdout


def test_a_port_in_use_is_one_clear_sentence_and_nothing_is_made(tmp_path: Path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        done = start("demo", CRUMB_PORT=port, CRUMB_DATA=str(tmp_path / "data"))
    assert done.returncode == 1
    assert f"Port {port} is in use" in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1
    assert not (tmp_path / "data").exists()


def test_a_missing_tool_is_named(tmp_path: Path):
    (tmp_path / "bin").mkdir()
    done = start(CRUMB_PORT=str(free_port()), PATH=str(tmp_path / "bin"), CRUMB_DATA=str(tmp_path))
    assert done.returncode == 1
    assert "Node 20.19" in done.stderr


def test_a_port_that_is_no_port_is_told():
    assert "CRUMB_PORT" in start(CRUMB_PORT="http").stderr


def test_without_the_right_to_install_it_says_what_to_ask_for(monkeypatch: pytest.MonkeyPatch):
    import provision

    monkeypatch.setattr(provision, "find_binaries", lambda: None)
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    with pytest.raises(CannotStart, match="sudo apt-get install postgresql"):
        provision.ensure_debian()


@pytest.fixture
def data_folder(tmp_path_factory: pytest.TempPathFactory):
    import shutil
    import tempfile

    folder = Path(tempfile.mkdtemp(prefix="crumb-start-"))
    folder.chmod(0o755)
    yield folder
    shutil.rmtree(folder, ignore_errors=True)


def _until_told(server: subprocess.Popen[str]) -> str:
    """What it prints up to the moment it says how to stop it."""
    assert server.stdout is not None
    told = ""
    while "Ctrl-C" not in told:
        line = server.stdout.readline()
        assert line, f"it stopped: {told}"
        told += line
    return told


BY_HAND, BY_SYSTEM = signal.SIGINT, pytest.param(signal.SIGTERM, marks=pytest.mark.full)


@pytest.mark.parametrize("sign", [BY_HAND, BY_SYSTEM])
def test_it_serves_and_stops_all_that_it_started(data_folder: Path, sign: signal.Signals):
    port = free_port()
    env = {**os.environ, "CRUMB_PORT": str(port), "CRUMB_DATA": str(data_folder)}
    server = subprocess.Popen(START, env=env, stdout=subprocess.PIPE, text=True)
    try:
        _stops(server, port, data_folder, sign)
    finally:
        server.kill()
        server.communicate()


def _stops(server: subprocess.Popen[str], port: int, data_folder: Path, sign: signal.Signals):
    told = _until_told(server)
    assert f"http://127.0.0.1:{port}" in told
    assert "first director" in told
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=5) as page:
        assert b'<div id="root">' in page.read()
    again = start(CRUMB_PORT=str(free_port()), CRUMB_DATA=str(data_folder))
    assert "already running" in again.stderr
    server.send_signal(sign)
    said, _ = server.communicate(timeout=60)
    assert server.returncode == 0
    assert "Stopped." in said
    assert port_is_free(port)
    assert not Cluster(data_folder / "pg", 1).is_running
    assert (data_folder / "pg" / "PG_VERSION").exists()
    assert (data_folder / "pg-password").stat().st_mode & 0o077 == 0
