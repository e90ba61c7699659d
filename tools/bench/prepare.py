"""Install what the benchmarks need: what the tests need."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

import provision
from postgres import CannotStart

if __name__ == "__main__":
    try:
        provision.check_python()
        provision.ensure_debian(with_browser=True)
        provision.ensure_python(dev=True)
        provision.ensure_node()
        provision.ensure_page()
    except CannotStart as error:
        sys.stderr.write(f"{error}\n")
        sys.exit(1)
