"""axe-core on a page, in light and in dark; the page must have been opened with `bypass_csp`."""

from pathlib import Path

AXE = Path(__file__).parent / "vendor" / "axe-4.14.1.min.js"
# Only colours differ between light and dark: the other rules are run once.
RUN = """async () => {
  const found = [];
  for (const theme of ["light", "dark"]) {
    document.documentElement.setAttribute("data-bs-theme", theme);
    const rules = theme === "light" ? {} : { runOnly: ["color-contrast"] };
    const result = await axe.run({ ...rules, resultTypes: ["violations"] });
    found.push(...result.violations.map((v) => [theme, v.id, v.impact, v.nodes[0].html.slice(0, 120)]));
  }
  return found;
}"""


def serious_violations(page) -> list[tuple[str, str, str]]:
    """Return theme, rule and the first element of every serious or critical violation."""
    page.emulate_media(reduced_motion="reduce")  # no colour on its way from one theme to the other
    page.add_script_tag(path=AXE)
    found = page.evaluate(RUN)
    return [(theme, rule, html) for theme, rule, impact, html in found if impact in ("serious", "critical")]
