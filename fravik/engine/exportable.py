"""Names of the kinds of file that leave the program; apart from their writers, which load only when something is written."""

PAPERS = ("a4", "letter")
BLADE_KINDS = ("sections.svg", "sections.dxf", "measuring.pdf")  # of printed propellers
KINDS = ("stl", "3mf", "sheet.html", "sheet.pdf", "csv", "json", *BLADE_KINDS)
RUN_KINDS = ("batch.3mf", "layers.svg", "roads.svg", "roads.dxf", "schedule.csv", "schedule.ics")
