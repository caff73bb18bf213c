"""What the papers say is true: pictures are there, pages are listed, no host is named."""

import json
import re
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
PICTURES = {path.name for path in (ROOT / "docs/screenshots").glob("*.png")}


def tracked():
    listed = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True).stdout
    return [ROOT / line for line in listed.splitlines() if (ROOT / line).is_file()]


def test_the_readme_shows_every_picture_and_there_are_few():
    shown = set(re.findall(r"docs/screenshots/([\w-]+\.png)", (ROOT / "README.md").read_text()))
    assert shown == PICTURES
    assert len(PICTURES) < 20


@pytest.mark.parametrize("page", ["README.md", "CONTRIBUTING.md", "docs/methods/README.md"])
def test_links_lead_somewhere(page):
    here = (ROOT / page).parent
    for link in re.findall(r"\]\((?!http)([^)#]+)\)", (ROOT / page).read_text()):
        assert (here / link).exists(), link


def test_every_calculation_has_its_page_listed():
    pages = {path.name for path in (ROOT / "docs/methods").glob("*.md")} - {"README.md"}
    listed = set(re.findall(r"\]\((\w+\.md)\)", (ROOT / "docs/methods/README.md").read_text()))
    assert pages == listed


def test_no_lock_file_or_setting_names_a_package_host():
    for path in tracked():
        if path.name in ("package-lock.json", "constraints.txt", "pyproject.toml", ".npmrc", "Makefile"):
            text = path.read_text()
            assert '"resolved"' not in text, path
            assert not re.search(r"index-url|registry\s*=|find-links|https?://[\w.]*(pypi|npmjs|pythonhosted)", text), (
                path
            )


def test_every_version_is_pinned():
    pins = (ROOT / "constraints.txt").read_text().split()
    assert pins
    assert all(re.fullmatch(r"[\w.-]+==[\w.+-]+", pin) for pin in pins)
    package = json.loads((ROOT / "web/package.json").read_text())
    versions = [*package["dependencies"].values(), *package["devDependencies"].values()]
    assert all(re.fullmatch(r"[\d.]+", version) for version in versions)


@pytest.mark.parametrize("target", ["demo", "demo-reset", "test", "quick", "dev", "types", "screenshots", "bench"])
def test_every_target_the_papers_name_exists(target):
    assert re.search(rf"^{target}:", (ROOT / "Makefile").read_text(), re.MULTILINE)
    assert f"make {target}" in (ROOT / "Makefile").read_text()
