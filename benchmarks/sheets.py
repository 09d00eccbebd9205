"""The sheets that are measured. All stand on made-up ellipses over the bench by the window."""

from calado.sheet.models import Part, Pass, Region, Sheet, Treatment


def oval(id: str, x: float, y: float, width: float, height: float, turn: float = 0.0, feather: float = 0.1) -> Region:
    """Return a region of one ellipse, feathered by ``feather`` on both sides."""
    values: dict[str, float | str] = {"x": x, "y": y, "width": width, "height": height, "turn": turn}
    part = Part(id="part", kind="ellipse", values={**values, "feather_in": feather, "feather_out": feather})
    return Region(id=id, name=id, parts=(part,))


def _pass(number: int, region: str, inside: Treatment, outside: Treatment) -> Pass:
    return Pass(id=f"pass-{number}", name=f"pass {number}", region=region, inside=inside, outside=outside)


def three_passes(*, last: float = 12 / 1067, x: float = 0.75) -> Sheet:
    """Return the reference: a vignette, a lift of colour, and a blur outside of the first region.

    ``last`` is the last pass's fader, ``x`` where the last pass's ellipse stands.
    """
    regions = (oval("frame", 0.75, 0.5, 1.3, 0.9, 4.0, 0.16), oval("lamp", 0.9, 0.4, 0.5, 0.6, 20.0))
    subject = oval("subject", x, 0.5, 0.6, 0.7, -8.0)
    passes = (
        _pass(1, "frame", {}, {"exposure": {"amount": -1.2}, "saturation": {"amount": -0.3}}),
        _pass(2, "lamp", {"exposure": {"amount": 0.35}, "saturation": {"amount": 0.1}}, {}),
        _pass(3, "subject", {}, {"blur": {"radius": last}}),
    )
    return Sheet(regions=(*regions, subject), passes=passes)


def five_point_passes(last: float = -0.2) -> Sheet:
    """Return five passes of exposure and saturation on five ellipses."""
    regions = tuple(oval(f"oval-{k}", 0.3 + 0.22 * k, 0.5, 0.7, 0.8, 10.0 * k) for k in range(5))
    passes = tuple(
        _pass(k, f"oval-{k}", {"exposure": {"amount": 0.2}}, {"saturation": {"amount": last if k == 4 else -0.2}})
        for k in range(5)
    )
    return Sheet(regions=regions, passes=passes)


def small_last_pass(amount: float) -> Sheet:
    """Return two passes, of which the last acts on a tenth of the frame."""
    regions = (oval("frame", 0.75, 0.5, 1.3, 0.9, 4.0, 0.16), oval("spot", 0.75, 0.5, 0.35, 0.4, 0.0, 0.04))
    passes = (
        _pass(1, "frame", {}, {"exposure": {"amount": -1.2}}),
        _pass(2, "spot", {"exposure": {"amount": amount}}, {}),
    )
    return Sheet(regions=regions, passes=passes)
