"""Install what is missing, once: Debian packages, Python and Node dependencies, the web page.

Standard library only. Each step leaves a stamp of what it was made from, so that a second start
finds nothing to do.
"""

import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path

from postgres import CannotStart, find_binaries

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"
OLDEST_NODE = (20, 19)


def say(text: str) -> None:
    """One line for the person at the terminal."""
    print(text, flush=True)


def run(command: Iterable[str | Path], *, cwd: Path = ROOT, what: str) -> None:
    """Run a command quietly; if it fails, say what failed and the end of what it printed.

    Raises:
        CannotStart: it failed.
    """
    done = subprocess.run(
        [str(part) for part in command],
        cwd=cwd,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        stdin=subprocess.DEVNULL,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        raise CannotStart(f"{what} failed:\n{done.stdout.strip()[-1500:]}")


def check_python() -> None:
    """Refuse a Python that is too old."""
    if sys.version_info < (3, 11):  # noqa: UP036 - this file runs on whatever python3 there is
        found = f"{sys.version_info.major}.{sys.version_info.minor}"
        raise CannotStart(f"Python 3.11 or newer is needed; this is {found}.")


def check_node() -> None:
    """Refuse a missing or old Node."""
    node = shutil.which("node")
    if node is None or shutil.which("npm") is None:
        raise CannotStart("Node 20.19 or newer with npm is needed and was not found.")
    done = subprocess.run([node, "--version"], capture_output=True, text=True, check=False)
    numbers = done.stdout.strip().lstrip("v").split(".")
    version = tuple(int(n) for n in numbers[:2] if n.isdigit())
    if version < OLDEST_NODE:
        raise CannotStart(f"Node 20.19 or newer is needed; this is {done.stdout.strip()}.")


def ensure_debian(*, with_browser: bool = False) -> None:
    """Install PostgreSQL, FFmpeg and Tesseract (and Chromium for the tests) by apt where missing.

    Without the administrator Crumb starts without Tesseract: text in pictures is then not read.
    """
    missing = [] if find_binaries() else ["postgresql"]
    if not shutil.which("ffmpeg"):
        missing.append("ffmpeg")
    if not shutil.which("tesseract"):
        missing.append("tesseract-ocr")
    if with_browser and not shutil.which("chromium"):
        missing.append("chromium")
    if not missing:
        return
    apt = shutil.which("apt-get")
    if missing == ["tesseract-ocr"] and (os.geteuid() != 0 or apt is None):
        say("Tesseract is not installed: text in scans and photos is not read.")
        return
    if os.geteuid() != 0 or apt is None:
        names = " ".join(missing)
        raise CannotStart(
            f"Missing: {names}. Installing needs the administrator: sudo apt-get install {names}"
        )
    say(f"Installing {', '.join(missing)} …")
    os.environ["DEBIAN_FRONTEND"] = "noninteractive"
    run([apt, "update", "-qq"], what="Reading the package lists")
    run(
        [apt, "install", "-y", "-qq", "--no-install-recommends", *missing],
        what="Installing Debian packages",
    )


def _digest(paths: Iterable[Path]) -> str:
    total = hashlib.sha256()
    for path in sorted(paths):
        total.update(str(path.relative_to(ROOT)).encode())
        total.update(path.read_bytes())
    return total.hexdigest()


def _is_made(stamp: Path, digest: str) -> bool:
    return stamp.exists() and stamp.read_text() == digest


def ensure_python(*, dev: bool = False) -> None:
    """A virtual environment with exactly what the lock file says, and crumb itself, compiled."""
    _ensure_packages(dev=dev)
    # As pip does it with all others: each of our many processes starts in half the time, even
    # where Python is told to write no bytecode. Without it, all works as well.
    compiling: list[str | Path] = [PYTHON, "-m", "compileall", "-q", ROOT / "src", ROOT / "tools"]
    subprocess.run(compiling, capture_output=True, stdin=subprocess.DEVNULL, check=False)


def _ensure_packages(*, dev: bool) -> None:
    lock = ROOT / ("requirements-dev.lock" if dev else "requirements.lock")
    stamp = VENV / "crumb.stamp"
    both = [_digest([ROOT / n, ROOT / "pyproject.toml"]) for n in _LOCKS]
    wanted = both[1] if dev else both[0]
    # What the tests need holds all that running needs.
    if _is_made(stamp, wanted) or (not dev and _is_made(stamp, both[1])):
        return
    say("Installing Python packages …")
    if not PYTHON.exists():
        run(
            [sys.executable, "-m", "venv", VENV], what="Making a virtual environment (python3-venv)"
        )
    pip: list[str | Path] = [PYTHON, "-m", "pip", "install", "-q", "--disable-pip-version-check"]
    run([*pip, "--require-hashes", "--no-deps", "-r", lock], what="Installing Python packages")
    run([*pip, "--no-deps", "--no-build-isolation", "-e", ROOT], what="Installing crumb")
    stamp.write_text(wanted)


_LOCKS = ("requirements.lock", "requirements-dev.lock")


def ensure_node() -> None:
    """The Node packages the lock file says."""
    stamp = WEB / "node_modules" / "crumb.stamp"
    wanted = _digest([WEB / "package-lock.json"])
    if _is_made(stamp, wanted):
        return
    say("Installing Node packages …")
    run(["npm", "ci", "--no-progress"], cwd=WEB, what="Installing Node packages")
    stamp.write_text(wanted)


def ensure_page() -> None:
    """The built web page; built anew only when its sources changed."""
    sources = [p for p in (WEB / "src").rglob("*") if p.is_file() and "gen" not in p.parts]
    sources += [p for p in (WEB / "public").rglob("*") if p.is_file()]
    sources += [
        WEB / n for n in ("openapi.json", "package-lock.json", "vite.config.ts", "index.html")
    ]
    stamp = WEB / "dist" / "crumb.stamp"
    wanted = _digest(sources)
    if _is_made(stamp, wanted):
        return
    say("Building the page …")
    run(["npm", "run", "--silent", "gen"], cwd=WEB, what="Making the API client")
    run(["npm", "run", "--silent", "build"], cwd=WEB, what="Building the page")
    stamp.write_text(wanted)
