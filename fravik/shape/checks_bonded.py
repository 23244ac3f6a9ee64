"""Contradictions of carbon and facings with the part they are bonded into or onto."""

from __future__ import annotations

from fravik.library import adhesives, carbon_stocks, facing_stocks
from fravik.model.material import CarbonStock
from fravik.model.problem import Problem
from fravik.model.project import Part
from fravik.model.recipe import Carbon

from .inlay import StraightBody, profile_places, profile_size_mm


def carbon_problems(body: StraightBody, part: Part) -> list[Problem]:
    """What keeps the profiles out, each at its field."""
    c = part.carbon
    if c is None:
        return []
    at = f"parts.{part.id}.carbon."
    stocks = carbon_stocks()
    if c.stock not in stocks:
        return [Problem(at + "stock", f"There is no carbon profile {c.stock!r} in the stock list.")]
    if c.adhesive not in adhesives():
        return [Problem(at + "adhesive", f"There is no adhesive {c.adhesive!r}.")]
    s = stocks[c.stock]
    if c.end_mm - c.start_mm < 10:
        return [Problem(at + "end_mm", "The carbon must be at least 10 mm long: its end lies before or near its start.")]
    out: list[Problem] = []
    back = body.back_mm
    if c.start_mm < -back:
        out.append(Problem(at + "start_mm", f"The carbon starts outside the part, which begins at {-back:g} mm."))
    far = body.inside_to_mm if c.place == "inside" else body.outside_to_mm
    if c.end_mm > far:
        out.append(Problem(at + "end_mm", f"The carbon runs {body.beyond}; end it by {far:.0f} mm."))
    low, high = adhesives()[c.adhesive].gap_mm
    if not low <= c.adhesive_gap_mm <= high:
        out.append(Problem(at + "adhesive_gap_mm", f"This adhesive fills gaps of {low:g} to {high:g} mm.", "warning"))
    out += _room(body, part, c, s, at)
    laid_in = any(p.why == "lay_in" for p in part.laying.pauses)
    if c.place == "inside" and c.start_mm > -back and body.closed_behind and not laid_in:
        out.append(Problem(at + "start_mm", "The bore is closed at both ends: pause the print to lay the profile in, or start it at "
                           f"{-back:g} mm to push it in from the back.", "warning"))  # fmt: skip
    return out + _clashes(body, part, c, s, at)


def _room(body: StraightBody, part: Part, c: Carbon, s: CarbonStock, at: str) -> list[Problem]:
    gap, wall = c.adhesive_gap_mm, 2 * part.recipe.line_width_mm
    low = min(body.height_mm(max(c.start_mm, 0)), body.height_mm(c.end_mm))
    narrow = min(body.root_width_mm, body.width_mm(c.end_mm))
    wide, tall = profile_size_mm(s)
    out: list[Problem] = []
    if c.place == "inside":
        need = tall + 2 * gap + 2 * wall
        if need > low:
            out.append(Problem(at + "stock", f"A profile {tall:g} mm high needs a part {need:.1f} mm high; this one is {low:.1f} mm at "
                               "its lowest. Raise it or take thinner stock."))  # fmt: skip
    elif c.place == "slot" and c.count * (tall + gap) > 0.6 * low:
        out.append(Problem(at + "stock", f"The slots take over 60 % of a part {low:.1f} mm high; use thinner stock."))
    if c.place == "face" and s.form not in ("strip", "square"):
        out.append(Problem(at + "place", "A round profile does not bond to a flat face; take a strip or a square tube, or cut a slot."))
    reach = max(abs(y) for y, _ in profile_places(body, c, s, 0.0)) + wide / 2 + (0.0 if c.place == "face" else gap + wall)
    if reach > narrow / 2:
        if c.count == 2 and c.place == "inside":
            out.append(Problem(at + "count", f"2 bores of {wide + 2 * gap:.1f} mm do not fit a part {narrow:.1f} mm wide."))
        else:
            out.append(Problem(at + "stock", f"A profile {wide:g} mm wide leaves no wall beside it in a part {narrow:.1f} mm wide."))
    uneven = abs(body.root_height_mm - body.tip_height_mm) > 0.3
    if c.count == 2 and c.place != "inside" and uneven:
        out.append(Problem(at + "count", "A profile along the top needs an arm of even height; make root and tip height equal or use one."))
    return out


def _clashes(body: StraightBody, part: Part, c: Carbon, s: CarbonStock, at: str) -> list[Problem]:
    if c.place == "face":
        return []
    wide, _ = profile_size_mm(s)
    half = wide / 2 + c.adhesive_gap_mm
    places = profile_places(body, c, s, 0.0)
    for x0, x1 in body.pockets:
        beside = any(abs(y) - half - 2 * part.recipe.line_width_mm < body.pocket_width_mm / 2 for y, _ in places)
        if x1 > c.start_mm and x0 < c.end_mm and beside:
            return [Problem(at + "stock", "The carbon runs through the lightening pockets: drop the pockets or the carbon.")]
    for x, y in body.bolts:
        if x > c.start_mm and any(abs(y - by) < body.bolt_hole_mm / 2 + half + 0.4 for by, _ in places):
            return [Problem(at + "start_mm", f"The profile runs into a tongue bolt at {x:.0f} mm: start it later, widen the tongue "
                            "or use thinner stock.")]  # fmt: skip
    return []


def facing_problems(body: StraightBody, part: Part) -> list[Problem]:
    """What keeps a facing off the faces."""
    f = part.facing
    if f is None:
        return []
    at = f"parts.{part.id}.facing."
    if f.stock not in facing_stocks():
        return [Problem(at + "stock", f"There is no facing {f.stock!r}.")]
    if f.adhesive not in adhesives():
        return [Problem(at + "adhesive", f"There is no adhesive {f.adhesive!r}.")]
    out: list[Problem] = []
    if f.end_mm - f.start_mm < 5:
        out.append(Problem(at + "end_mm", "The facing must be at least 5 mm long."))
    if f.start_mm < -body.back_mm:
        out.append(Problem(at + "start_mm", f"The facing starts outside the part, which begins at {-body.back_mm:g} mm."))
    far = body.outside_to_mm
    if f.end_mm > far:
        out.append(Problem(at + "end_mm", f"The facing runs over the end; stop it by {far:.0f} mm."))
    if body.barred and f.faces != "bottom":
        out.append(Problem(at + "faces", "The stiffener bars stand in the way of a facing on top; use the underside or drop the bars."))
    if part.carbon is not None and part.carbon.place != "inside":
        out.append(Problem(at + "faces", "Profiles in slots or on the faces and a facing over them share one face; choose one.", "warning"))
    return out


def bonded_problems(body: StraightBody, part: Part) -> list[Problem]:
    """What keeps profiles out of a part, or a facing off it."""
    return carbon_problems(body, part) + facing_problems(body, part)
