"""What a reader and a checker get of a study: one HTML file, the same in Markdown, and a workbook with every table."""

from .writing import write_report

__all__ = ["write_report"]
