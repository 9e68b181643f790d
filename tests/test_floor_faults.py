"""The server is killed while two phones tap: what is stored is exactly what was tapped."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent / "scripts"))

from floor_faults import run_cycles


def test_ten_kills_lose_double_and_change_no_tap():
    assert run_cycles(10, 7) > 10
