"""Reads one rehearsal in three formats, each by its own way, and holds them against each other: frames, rate, places."""

import json
import struct
import sys
from pathlib import Path

import numpy
from pxr import Usd, UsdGeom, UsdValidation

faults = []


def check(what, holds, told=""):
    if not holds:
        faults.append(what)
        print(f"FAULT {what}: {told}")


def by_bytes(file):
    """PC2: a head of 32 bytes, then frames of three floats a point."""
    data = file.read_bytes()
    sign, version, points, start, rate, samples = struct.unpack("<12siiffi", data[:32])
    check(file.name, sign == b"POINTCACHE2\0" and version == 1 and start == 0, "head")
    check(file.name, len(data) == 32 + 12 * points * samples, f"{len(data)} bytes for {samples} frames of {points}")
    return numpy.frombuffer(data, "<f4", offset=32).reshape(samples, points, 3), rate


def by_usd(file, fps):
    """USD: time samples of the only moving mesh, without anything that its checker objects to."""
    stage = Usd.Stage.Open(str(file))
    validators = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    said = [e.GetMessage() for e in UsdValidation.ValidationContext(validators).Validate(stage)]
    check(file.name, not said, str(said[:3]))
    check(file.name, stage.GetTimeCodesPerSecond() == fps, f"{stage.GetTimeCodesPerSecond()} a second")
    mesh = next(UsdGeom.Mesh(p) for p in stage.Traverse() if p.IsA(UsdGeom.Mesh))
    points = mesh.GetPointsAttr()
    times = points.GetTimeSamples()
    check(file.name, all(b - a == 1 for a, b in zip(times, times[1:])), "frames are not one apart")
    check(file.name, (stage.GetStartTimeCode(), stage.GetEndTimeCode()) == (times[0], times[-1]), "start and end")
    return numpy.array([points.Get(t) for t in times])


def by_gltf(file, fps):
    """glTF: the mesh with its morph targets at the times of its motion."""
    data = file.read_bytes()
    length = struct.unpack("<I", data[12:16])[0]
    root, rest = json.loads(data[20 : 20 + length]), data[28 + length :]

    def rows(index):
        accessor = root["accessors"][index]
        view = root["bufferViews"][accessor["bufferView"]]
        width = {"SCALAR": 1, "VEC3": 3}[accessor["type"]]
        start = view.get("byteOffset", 0) + accessor.get("byteOffset", 0)
        return numpy.frombuffer(rest, "<f4", accessor["count"] * width, start).reshape(-1, width)

    primitive = root["meshes"][0]["primitives"][0]
    base = rows(primitive["attributes"]["POSITION"])
    targets = [rows(t["POSITION"]) for t in primitive["targets"]]
    sampler = root["animations"][0]["samplers"][0]
    times, weights = rows(sampler["input"])[:, 0], rows(sampler["output"])[:, 0].reshape(-1, len(targets))
    check(file.name, numpy.allclose(numpy.diff(times), 1 / fps, atol=1e-5), "frames are not even")
    return numpy.array([base + sum(w * t for w, t in zip(row, targets)) for row in weights])


def main(folder):
    report = json.loads((folder / "report.json").read_text())
    fps, count = report["fps"], len(report["frames"])
    cache, rate = by_bytes(folder / "turn.pc2")
    usd = by_usd(folder / "turn.usda", fps)
    gltf = by_gltf(folder / "turn.glb", fps)
    check("frames", len(usd) == len(gltf) == len(cache), f"{len(usd)}, {len(gltf)} and {len(cache)} frames")
    check("frames", 0 < len(cache) <= count, f"{len(cache)} of {count}")
    # the cache is in frames; USD and the cache have the points in one order
    check("places", usd.shape == cache.shape and abs(usd - cache).max() < 5e-5, "USD and PC2 differ")
    # glTF doubles points at seams of the layout: each lies where one of the others does, and moves as that
    first = {tuple(p): k for k, p in enumerate(numpy.round(cache[0], 5).tolist())}
    match = [first.get(tuple(p)) for p in numpy.round(gltf[0], 5).tolist()]
    check("places", None not in match, f"{match.count(None)} points of glTF are nowhere in PC2")
    known = [(a, b) for a, b in enumerate(match) if b is not None]
    apart = max(abs(gltf[:, a] - cache[:, b]).max() for a, b in known)
    check("places", apart < 5e-5, f"glTF and PC2 are {1000 * apart} mm apart")
    moved = abs(cache[-1] - cache[0]).max()
    check("places", moved > 0.05, "nothing moves")
    print(f"{len(cache)} frames of {cache.shape[1]} points at {fps} a second, rate {rate}; glTF and PC2 within {1000 * apart:.4f} mm; {len(faults)} faults")
    sys.exit(1 if faults else 0)


main(Path(sys.argv[1]))
