"""What the pages of the docs need to work without a network: the search's helper from the site itself."""

from __future__ import annotations

from typing import Any

from mkdocs.utils import get_relative_url

ELSEWHERE = "https://unpkg.com/iframe-worker/shim"


def on_post_page(output: str, *, page: Any, config: Any) -> str:
    """A page without addresses elsewhere."""
    return output.replace(ELSEWHERE, get_relative_url("assets/iframe-worker.js", page.url))


def on_post_template(output: str, *, template_name: str, config: Any) -> str:
    """The same of the page that says that there is none."""
    return output.replace(ELSEWHERE, "assets/iframe-worker.js")
