"""Reads delivered files with libraries that know nothing of Ourlet and holds them against each other and against their manifests."""

import json
import math
import sys
from pathlib import Path

import ezdxf
import numpy
import pymupdf
import trimesh
from pxr import Usd, UsdGeom, UsdShade, UsdValidation

METRES = {"m": 1.0, "cm": 0.01, "mm": 0.001, "inch": 0.0254}
faults = []


def check(what, holds, told=""):
    if not holds:
        faults.append(f"{what}: {told}")
        print(f"FAULT {what}: {told}")


def mesh_of(file):
    """All triangles of a file, its vertices as they stand in it."""
    loaded = trimesh.load(file, process=False, maintain_order=True, force="mesh")
    return loaded


def solid(file, manifest):
    """OBJ, PLY, STL: as many triangles as the manifest says; thick ones closed, with the volume of their cloth."""
    mesh = mesh_of(file)
    want = manifest["mesh"]["triangles"] + manifest["mesh"]["body_triangles"]
    check(file.name, len(mesh.faces) == want, f"{len(mesh.faces)} triangles instead of {want}")
    if not manifest["options"]["with_body"]:
        size = numpy.ptp(mesh.vertices, axis=0)
        want = manifest["mesh"]["size"]
        if manifest["options"]["z_up"]:
            want = [want[0], want[2], want[1]]
        check(file.name, numpy.allclose(size, want, rtol=1e-4), f"size {size} instead of {want}")
    if manifest["options"]["thickness"] > 0 and file.suffix != ".stl":
        merged = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
        merged.merge_vertices(merge_tex=True, merge_norm=True)
        check(file.name, merged.is_watertight and merged.is_winding_consistent, "is not closed")
        unit = METRES[manifest["options"]["unit"]]
        thick = manifest["options"]["thickness"] / 1000 / unit
        area = merged.area / 2
        check(file.name, merged.volume > 0 and abs(merged.volume / (area * thick) - 1) < 0.05, f"volume {merged.volume} for {area} x {thick}")
    print(f"{file.name}: {len(mesh.faces)} triangles")


def usd(file, manifest):
    """USD: opens, its checker is clean, units, triangles, normals, texture coordinates, a material on every piece."""
    stage = Usd.Stage.Open(str(file))
    validators = UsdValidation.ValidationRegistry().GetOrLoadAllValidators()
    said = [e.GetMessage() for e in UsdValidation.ValidationContext(validators).Validate(stage)]
    check(file.name, not said, str(said[:3]))
    unit = METRES[manifest["options"]["unit"]]
    check(file.name, math.isclose(UsdGeom.GetStageMetersPerUnit(stage), unit), "unit")
    check(file.name, UsdGeom.GetStageUpAxis(stage) == ("Z" if manifest["options"]["z_up"] else "Y"), "axis")
    meshes = [UsdGeom.Mesh(p) for p in stage.Traverse() if p.IsA(UsdGeom.Mesh)]
    count = sum(sum(n - 2 for n in m.GetFaceVertexCountsAttr().Get()) for m in meshes)
    want = manifest["mesh"]["triangles"] + manifest["mesh"]["body_triangles"]
    check(file.name, count == want, f"{count} triangles instead of {want}")
    garment = meshes[0]
    sides = garment.GetFaceVertexCountsAttr().Get()
    faces = len(sides)
    check(file.name, sum(n == 4 for n in sides) == manifest["mesh"]["quads"], "faces of four sides")
    st = UsdGeom.PrimvarsAPI(garment).GetPrimvar("st")
    check(file.name, st and st.GetInterpolation() == "faceVarying" and len(st.GetIndices()) == sum(sides), "texture coordinates")
    check(file.name, garment.GetNormalsInterpolation() == "vertex" and len(garment.GetNormalsAttr().Get()) == len(garment.GetPointsAttr().Get()), "normals")
    parts = UsdGeom.Subset.GetAllGeomSubsets(garment)
    check(file.name, len(parts) == manifest["mesh"]["groups"] and sum(len(p.GetIndicesAttr().Get()) for p in parts) == faces, "pieces")
    for part in parts:
        material, _ = UsdShade.MaterialBindingAPI(part.GetPrim()).ComputeBoundMaterial()
        check(file.name, bool(material) and bool(material.ComputeSurfaceSource()[0]), f"{part.GetPrim().GetName()} has no material")
    print(f"{file.name}: {count} triangles, {len(parts)} pieces")


def paper(file):
    """A printed pattern: the square measures 10 cm, and sheets show the same lines where they meet."""
    pages = pymupdf.open(file)
    squares = []
    for page in pages:
        for drawing in page.get_drawings():
            box = drawing["rect"]
            side = [v * 25.4 / 72 for v in (box.width, box.height)]
            if all(abs(s - 100) < 1 for s in side):
                squares.append(side)
    check(file.name, squares and all(abs(s - 100) < 0.2 for side in squares for s in side), f"squares {squares[:3]}")
    print(f"{file.name}: {len(pages)} pages, square {squares[0] if squares else None}")


def main(folder):
    for manifest_file in sorted(folder.glob("*.manifest.json")):
        name = manifest_file.name.removesuffix(".manifest.json")
        for file in sorted(folder.glob(f"{name}.*")):
            manifest = json.loads(manifest_file.read_text())
            if file.suffix in (".obj", ".ply", ".stl"):
                solid(file, manifest)
            elif file.suffix in (".usda", ".usdz"):
                usd(file, manifest)
    for file in sorted(folder.glob("*.dxf")):
        audit = ezdxf.readfile(file).audit()
        check(file.name, not audit.has_errors and not audit.fixes, str([e.message for e in audit.errors[:3]]))
        print(f"{file.name}: audit clean")
    for file in sorted(folder.glob("*.pdf")):
        paper(file)
    check("files", len(list(folder.glob("*.usdz"))) >= 5 and len(list(folder.glob("*.pdf"))) == 3, "not all were made")
    print(f"{len(faults)} faults")
    sys.exit(1 if faults else 0)


main(Path(sys.argv[1]))
