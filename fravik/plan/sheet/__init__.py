"""The sheet that lies beside the printer: what to print and how, what to check as it comes off, when, and what it must reach."""

from .content import BatchCard, Finding, Moment, PartCard, Sheet, Target
from .html import sheet_html
from .pdf import PAPERS, sheet_pdf

__all__ = ["PAPERS", "BatchCard", "Finding", "Moment", "PartCard", "Sheet", "Target", "sheet_html", "sheet_pdf"]
