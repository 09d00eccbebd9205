"""The path tracer, thinly wrapped: scenes, materials, cameras, pictures and exact mattes.

World units are about 30 cm; y is up. Colours are linear, with the primaries of Rec. 709.
"""

import os
from collections.abc import Sequence
from pathlib import Path
from typing import Any

os.environ.setdefault("DRJIT_LIBLLVM_PATH", "/usr/lib/x86_64-linux-gnu/libLLVM-19.so")

import mitsuba as mi
import numpy as np
import pyoidn

from demo.scenes.kit.files import temporary
from demo.scenes.kit.geometry import Mesh, write_ply

mi.set_variant("llvm_ad_rgb")
mi.set_log_level(mi.LogLevel.Error)
T = mi.ScalarTransform4f
Plain = dict[str, Any]
#: about so many samples are traced at once, which bounds the memory
AT_ONCE = 7e6


class Scene:
    """Collects shapes, each with the name of a group, so that a picture and its mattes share one geometry."""

    def __init__(self) -> None:
        self.shapes: Plain = {}
        self.group: dict[str, str | None] = {}
        self.lights: Plain = {}
        #: of a shape, where on its texture something is painted, by name
        self.marks: dict[str, dict[str, np.ndarray]] = {}

    def add(self, name: str, shape: Plain, group: str | None = None) -> str:
        """Add a shape; return the name it got."""
        key, number = name, 1
        while key in self.shapes:
            number += 1
            key = f"{name}_{number}"
        self.shapes[key], self.group[key] = shape, group
        return key

    def mesh(
        self, name: str, mesh: Mesh, bsdf: Any, xf: Any = None, group: str | None = None, emitter: Any = None
    ) -> str:
        """Add a mesh, written to a file of its own."""
        shape = file_of(mesh) | {"bsdf": bsdf} | placed(xf) | ({"emitter": emitter} if emitter else {})
        return self.add(name, shape, group)

    def curves(self, name: str, file: str, bsdf: Any, xf: Any = None, group: str | None = None) -> str:
        """Add strands that stand in a file."""
        return self.add(name, {"type": "bsplinecurve", "filename": file, "bsdf": bsdf} | placed(xf), group)

    def light(self, name: str, emitter: Plain) -> None:
        """Add a light."""
        self.lights[name] = emitter

    def window(
        self,
        name: str,
        origin: Sequence[float],
        target: Sequence[float],
        size: tuple[float, float],
        colour: Any,
        up: tuple[int, int, int] = (0, 1, 0),
    ) -> None:
        """Add a rectangular light of half sizes ``size``, aimed at a target."""
        at = T().look_at(origin=list(origin), target=list(target), up=list(up)).scale([*size, 1])
        self.light(name, {"type": "rectangle", "to_world": at, "emitter": glowing(colour)})

    def bulb(self, name: str, centre: Sequence[float], radius: float, colour: Any, group: str | None = None) -> None:
        """Add a round light; of a group if it shall have a matte."""
        ball = {"type": "sphere", "center": list(centre), "radius": radius, "emitter": glowing(colour)}
        if group:
            self.add(name, ball, group)
        else:
            self.light(name, ball)

    def around(self, *colour: float) -> None:
        """Add light from everywhere."""
        self.light("around", {"type": "constant", "radiance": rgb(*colour)})


def placed(xf: Any) -> Plain:
    """Return the entry of a transform, or nothing."""
    return {} if xf is None else {"to_world": xf}


def file_of(mesh: Mesh) -> Plain:
    """Return a mesh as a shape that is read from a file."""
    return {"type": "ply", "filename": write_ply(temporary("ply"), mesh), "flip_tex_coords": False}


def glowing(colour: Any) -> Plain:
    """Return an area emitter of a colour (three numbers) or of a bitmap."""
    return {"type": "area", "radiance": colour if isinstance(colour, dict) else rgb(*colour)}


def bitmap(pixels: np.ndarray, wrap: str = "mirror", xf: Any = None) -> Plain:
    """Return a texture of linear values, shape (H, W) or (H, W, C)."""
    planes = np.ascontiguousarray(pixels if pixels.ndim == 3 else pixels[..., None], "f4")
    made = {"type": "bitmap", "bitmap": mi.Bitmap(planes), "raw": True, "wrap_mode": wrap}
    return made if xf is None else made | {"to_uv": xf}


def rgb(*colour: float) -> Plain:
    """Return a colour of three linear values."""
    return {"type": "rgb", "value": [float(each) for each in colour]}


def painted(
    colour: Any,
    rough: float = 0.5,
    spec: float = 0.5,
    coat: float = 0.0,
    coat_gloss: float = 0.9,
    sheen: float = 0.0,
    bump: Plain | None = None,
    scale: float = 1.0,
) -> Plain:
    """Return a two-sided material: a colour or texture, how rough, with a coat, a sheen and bumps."""
    base: Plain = {
        "type": "principled",
        "base_color": colour if isinstance(colour, dict) else rgb(*colour),
        "roughness": rough,
        "specular": spec,
    }
    if coat:
        base |= {"clearcoat": coat, "clearcoat_gloss": coat_gloss}
    if sheen:
        base |= {"sheen": sheen, "sheen_tint": 0.6}
    return two_sided(base, bump, scale)


def two_sided(base: Plain, bump: Plain | None = None, scale: float = 1.0) -> Plain:
    """Return a material seen from both sides, with bumps where they are given."""
    if bump is not None:
        base = {"type": "bumpmap", "arbitrary": bump, "scale": scale, "bsdf": base}
    return {"type": "twosided", "b": base}


def loaded(plain: Plain) -> Any:
    """Return what the renderer made of a description, so that many shapes can share it."""
    return mi.load_dict(plain)


def camera(
    origin: Sequence[float],
    target: Sequence[float],
    fov: float,
    width: int,
    height: int,
    aperture: float = 0.0,
    focus: float | None = None,
    crop: tuple[int, int, int, int] | None = None,
) -> Plain:
    """Return a camera; ``fov`` is across, in degrees; ``crop`` = (left, top, width, height) in pixels."""
    film = {
        "type": "hdrfilm",
        "width": width,
        "height": height,
        "rfilter": {"type": "box"},  # with a softer one the denoiser leaves chunks
        "pixel_format": "rgb",
        "component_format": "float32",
    }
    if crop:
        film |= dict(zip(("crop_offset_x", "crop_offset_y", "crop_width", "crop_height"), crop, strict=True))
    made: Plain = {
        "type": "thinlens" if aperture > 0 else "perspective",
        "fov": fov,
        "fov_axis": "x",
        "to_world": T().look_at(origin=list(origin), target=list(target), up=[0, 1, 0]),
        "film": film,
        "sampler": {"type": "independent"},
    }
    if aperture > 0:
        away = float(np.linalg.norm(np.subtract(origin, target)))
        made |= {"aperture_radius": aperture, "focus_distance": focus or away}
    return made


def project(
    points: Any, origin: Sequence[float], target: Sequence[float], fov: float, width: int, height: int
) -> np.ndarray:
    """Return pixels (x right, y down) and depths of world points, shape (N, 3); as the renderer's camera sees them."""
    eye = np.asarray(origin, float)
    ahead = np.asarray(target, float) - eye
    ahead /= np.linalg.norm(ahead)
    left = np.cross((0, 1, 0), ahead)
    left /= np.linalg.norm(left)
    up = np.cross(ahead, left)
    away = np.asarray(points, float) - eye
    depth, scale = away @ ahead, width / 2 / np.tan(np.radians(fov) / 2)
    return np.stack([width / 2 - scale * (away @ left) / depth, height / 2 - scale * (away @ up) / depth, depth], -1)


def trace(
    scene: Scene, view: Plain, samples: int, depth: int = 7, seed: int = 0, limit: float = 60.0, clean: bool = True
) -> np.ndarray:
    """Return a picture in linear light, shape (H, W, 3), denoised by what the renderer knows of each pixel."""
    path = {"type": "path", "max_depth": depth, "rr_depth": 5}
    aovs = {"type": "aov", "aovs": "alb:albedo,nn:sh_normal", "img": path}
    made = mi.load_dict({"type": "scene", "integrator": aovs, "sensor": view, **scene.shapes, **scene.lights})
    total = 0
    passes = _passes(view, samples)
    for number in range(passes):
        found = np.array(mi.render(made, spp=max(1, samples // passes), seed=seed * 97 + number))
        found = np.nan_to_num(found, nan=0, posinf=limit, neginf=0)
        found[..., :3] = np.minimum(found[..., :3], limit)
        total = total + found / passes
    return denoised(total) if clean else total[..., :3]


def denoised(traced: np.ndarray) -> np.ndarray:
    """Return the picture of what was traced: light, albedo and normals, shape (H, W, 9)."""
    light, albedo, normals = traced[..., :3], np.clip(traced[..., 3:6], 0, 1), traced[..., 6:9]
    planes = [np.ascontiguousarray(each, "f4") for each in (light, albedo, normals)]
    # a wide lens makes these noisy as well; left so, they leave speckle in what is out of focus
    planes[1:] = [_clean(*each) for each in (("albedo", planes[1]), ("normal", planes[2]))]
    return np.asarray(pyoidn.denoise(*planes, hdr=True, clean_aux=True, quality="high"))


def _clean(kind: str, plane: np.ndarray) -> np.ndarray:
    """Return albedo or normals, shape (H, W, 3), denoised by themselves."""
    made = np.empty_like(plane)
    with pyoidn.Device() as device:
        device.commit()
        with pyoidn.Filter(device, pyoidn.OIDN_FILTER_TYPE_RT) as cleaning:
            cleaning.set_image(kind, plane, pyoidn.OIDN_FORMAT_FLOAT3)
            cleaning.set_image(pyoidn.OIDN_IMAGE_OUTPUT, made, pyoidn.OIDN_FORMAT_FLOAT3)
            cleaning.commit()
            cleaning.execute()
        if said := device.get_error():
            raise RuntimeError(f"the denoiser did not take the {kind}: {said}")
    return made


def mattes(
    scene: Scene,
    view: Plain,
    groups: Sequence[tuple[str, ...]],
    samples: int = 64,
    seed: int = 0,
    only: tuple[str, ...] | None = None,
) -> np.ndarray:
    """Return the exact cover of up to three groups, shape (H, W, G), lens blur and hair in it.

    The same geometry and lens, every surface black but the group's; ``only`` leaves out all other shapes, so nothing
    stands before it.
    """
    path = {"type": "direct", "emitter_samples": 1, "bsdf_samples": 0}
    made: Plain = {"type": "scene", "integrator": {"type": "aov", "aovs": "alb:albedo", "img": path}, "sensor": view}
    for key, shape in scene.shapes.items():
        group = scene.group[key]
        if only is not None and group not in only:
            continue
        plain = {name: value for name, value in shape.items() if name not in ("bsdf", "emitter")}
        white = _white(scene.group[key], scene.marks.get(key, {}), groups)
        made[key] = plain | {"bsdf": two_sided({"type": "diffuse", "reflectance": white})}
    made["sky"] = {"type": "constant", "radiance": rgb(0, 0, 0)}
    ready = mi.load_dict(made)
    passes, total = _passes(view, samples), 0
    for number in range(passes):
        each = np.array(mi.render(ready, spp=max(1, samples // passes), seed=seed * 31 + number))
        total = total + np.nan_to_num(each[..., 3:6]) / passes
    return np.clip(total, 0, 1)[..., : len(groups)]


def _white(group: str | None, marks: dict[str, np.ndarray], groups: Sequence[tuple[str, ...]]) -> Plain:
    """Return what a shape reflects where up to three groups are white; a painted mark is white by itself."""
    whole = [float(group in each) for each in groups] + [0.0] * (3 - len(groups))
    named = [next((marks[name] for name in each if name in marks), None) for each in groups]
    if all(each is None for each in named):
        return rgb(*whole)
    size = next(each.shape for each in named if each is not None)
    planes = [
        np.full(size, level) if mark is None else mark for level, mark in zip(whole, [*named, None, None], strict=False)
    ]
    return bitmap(np.stack(planes[:3], axis=-1))


def _passes(view: Plain, samples: int) -> int:
    film = view["film"]
    pixels = film.get("crop_width", film["width"]) * film.get("crop_height", film["height"])
    return max(1, min(samples, round(pixels * samples / AT_ONCE)))


def strands_file(strands: Sequence[np.ndarray], radii: Sequence[np.ndarray], scale: float = 1.0) -> str:
    """Return the name of a file with strands, each a list of points, and how thick they are."""
    name = temporary("txt")
    with Path(name).open("w") as file:
        for points, thick in zip(strands, radii, strict=True):
            rows = (f"{x:.5f} {y:.5f} {z:.5f} {r * scale:.6f}" for (x, y, z), r in zip(points, thick, strict=True))
            file.write("\n".join(rows) + "\n\n")
    return name
