"""Write the API's description to web/openapi.json, from which the web client is generated."""

import json
import sys
from pathlib import Path

from crumb.api.main import create_app

TARGET = Path(__file__).parent.parent / "web" / "openapi.json"


def described() -> str:
    """The description as text, stable from run to run."""
    return json.dumps(create_app().openapi(), indent=1, sort_keys=True, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    text = described()
    if "--check" in sys.argv and TARGET.read_text() != text:
        sys.exit("web/openapi.json is out of date: run python tools/openapi.py")
    TARGET.write_text(text)
