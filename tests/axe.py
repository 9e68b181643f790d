"""axe-core on a page; the page must have been opened with `bypass_csp`."""

from pathlib import Path

AXE = Path(__file__).parent / "vendor" / "axe-4.14.1.min.js"


def serious_violations(page) -> list[tuple[str, str]]:
    """Return the rule and the first element of every serious or critical violation."""
    page.add_script_tag(path=AXE)
    found = page.evaluate("axe.run().then(r => r.violations)")
    return [(v["id"], v["nodes"][0]["html"][:120]) for v in found if v["impact"] in ("serious", "critical")]
