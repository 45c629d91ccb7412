"""Closed irregular meshes of ground coffee and chaff, with the faces they come to rest on.

Two families exist so that measuring can be tuned on one and judged on the other: ``cut`` bodies are spheres sliced by random
planes, ``crumbled`` bodies are hulls of random points whose faces are eroded by noise.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from scipy.spatial import ConvexHull

from benchmarks.pictures3d.silhouettes import silhouette

Array = npt.NDArray[np.float64]
Faces = npt.NDArray[np.int64]
Family = Literal["cut", "crumbled"]
Kind = Literal["shard", "boulder", "flake", "fine", "chaff"]

KINDS: tuple[Kind, ...] = ("shard", "boulder", "flake", "fine", "chaff")
MESHES_OF_A_KIND = 24
POSES = 4


@dataclass(frozen=True)
class Pose:
    """A rotation (3, 3) that lays a mesh on one of its faces, and its area and volume there, for a diameter of 1."""

    rotation: Array
    scale: float
    volume: float
    height: float


@dataclass(frozen=True)
class Shape:
    """Vertices (n, 3), triangles (m, 3) wound outwards, a tone per vertex (n,), and the poses the shape rests in."""

    vertices: Array
    faces: Faces
    tone: Array
    poses: tuple[Pose, ...]


def icosphere(subdivisions: int) -> tuple[Array, Faces]:
    """Return a unit sphere of nearly equal triangles."""
    golden = (1 + 5**0.5) / 2
    corners = [(-1, golden, 0), (1, golden, 0), (-1, -golden, 0), (1, -golden, 0)]
    vertices = [np.roll(corner, shift) for shift in range(3) for corner in corners]
    points = np.array(vertices, float)
    points /= np.linalg.norm(points, axis=1, keepdims=True)
    faces = np.asarray(ConvexHull(points).simplices, np.int64)
    for _ in range(subdivisions):
        edges = np.sort(np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]]), axis=1)
        unique, index = np.unique(edges, axis=0, return_inverse=True)
        middles = points[unique].mean(axis=1)
        middles /= np.linalg.norm(middles, axis=1, keepdims=True)
        ab, bc, ca = (index.reshape(3, -1) + len(points)).astype(np.int64)
        a, b, c = faces.T
        faces = np.concatenate([np.stack(f, 1) for f in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))])
        points = np.concatenate([points, middles])
    return points, _outward(points, faces)


def _outward(points: Array, faces: Faces) -> Faces:
    """Wind triangles of a body that is star-shaped about the origin so that their normals point outwards."""
    a, b, c = (points[faces[:, k]] for k in range(3))
    inward = np.einsum("ij,ij->i", np.cross(b - a, c - a), a + b + c) < 0
    return np.where(inward[:, None], faces[:, ::-1], faces)


def _waves(directions: Array, rng: np.random.Generator, lowest: float, highest: float, count: int) -> Array:
    """Sum of random plane waves over points (n, 3): smooth noise of unit variance."""
    k = rng.normal(size=(count, 3))
    k *= (rng.uniform(lowest, highest, count) / np.linalg.norm(k, axis=1))[:, None]
    return np.asarray(np.sin(directions @ k.T + rng.uniform(0, 2 * np.pi, count)).sum(axis=1) * (2 / count) ** 0.5)


PROPORTIONS: dict[Kind, tuple[float, float, float]] = {
    "shard": (1.25, 0.85, 0.7), "boulder": (1.1, 0.95, 0.85), "flake": (1.2, 0.95, 0.38), "fine": (1.15, 0.9, 0.62),
    "chaff": (1.0, 0.55, 0.02),
}  # fmt: skip
SUBDIVISIONS: dict[Kind, int] = {"shard": 3, "boulder": 3, "flake": 3, "fine": 1, "chaff": 3}


def _cut(directions: Array, kind: Kind, rng: np.random.Generator) -> Array:
    """Points of a sphere sliced by planes at random distances, roughened."""
    planes = {"shard": 9, "boulder": 22, "flake": 12, "fine": 9, "chaff": 0}[kind]
    normals = rng.normal(size=(planes, 3))
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    distance = rng.uniform(0.55, 1.0, planes)
    along = np.maximum(directions @ normals.T, 1e-3)
    radius = np.minimum(1.25, (distance / along).min(axis=1))
    rough = {"shard": 0.03, "boulder": 0.05, "flake": 0.04, "fine": 0.0, "chaff": 0.0}[kind]
    radius = radius * (1 + rough * _waves(directions, rng, 4, 14, 24))
    return directions * radius[:, None]


def _crumbled(directions: Array, kind: Kind, rng: np.random.Generator) -> Array:
    """Points of the hull of a random cloud, seen from its middle, with hollows eaten into it."""
    count = {"shard": 11, "boulder": 30, "flake": 14, "fine": 12, "chaff": 0}[kind]
    cloud = rng.normal(size=(count, 3))
    cloud *= (rng.uniform(0.75, 1.1, count) / np.linalg.norm(cloud, axis=1))[:, None]
    equations = ConvexHull(np.concatenate([cloud, 0.35 * np.eye(3), -0.35 * np.eye(3)])).equations
    along = directions @ equations[:, :3].T
    radius = np.where(along > 1e-6, -equations[:, 3] / np.maximum(along, 1e-6), np.inf).min(axis=1)
    eaten = {"shard": 0.05, "boulder": 0.10, "flake": 0.05, "fine": 0.0, "chaff": 0.0}[kind]
    hollows = np.maximum(_waves(directions, rng, 2, 7, 12), 0) * eaten + 0.02 * _waves(directions, rng, 8, 20, 20)
    return directions * (radius * (1 - np.clip(hollows, -0.1, 0.35)))[:, None]


def _chaff(rng: np.random.Generator) -> tuple[Array, Faces]:
    """Return a thin, curled skin with a ragged outline."""
    points, faces = icosphere(SUBDIVISIONS["chaff"])
    angle = np.arctan2(points[:, 1], points[:, 0])
    ragged = 1 + sum(rng.normal(0, 0.1 / k**0.5) * np.cos(k * angle + rng.uniform(0, 6.3)) for k in range(2, 7))
    x, y = points[:, 0] * ragged, rng.uniform(0.35, 0.75) * points[:, 1] * ragged
    curl = rng.uniform(0.05, 0.3) * x**2 + rng.uniform(-0.25, 0.25) * y**2 + 0.02 * np.sin(6 * x + rng.uniform(0, 6))
    return np.column_stack([x, y, 0.02 * points[:, 2] + curl]), faces


def _poses(vertices: Array, faces: Faces, kind: Kind, rng: np.random.Generator) -> tuple[Pose, ...]:
    """Rest on the wide faces of the hull that lie low; fines and chaff lie as they fall."""
    hull = ConvexHull(vertices)
    normals, distance = hull.equations[:, :3], -hull.equations[:, 3]
    a, b, c = (vertices[hull.simplices[:, k]] for k in range(3))
    area = 0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1)
    alike = normals @ normals.T > np.cos(np.radians(8))
    weight = (alike @ area) / np.maximum(distance, 1e-3) ** 2
    chosen: list[int] = []
    for k in np.argsort(-weight):
        if all(normals[k] @ normals[j] < 0.8 for j in chosen):
            chosen.append(int(k))
        if len(chosen) == (1 if kind in ("flake", "fine", "chaff") else POSES):
            break
    downs = [normals[k] for k in chosen]
    if kind == "chaff":
        downs = [np.array([0.0, 0.0, -1.0]), np.array([0.1, 0.0, 1.0])]
    return tuple(_pose(vertices, faces, down / np.linalg.norm(down)) for down in downs)


def _pose(vertices: Array, faces: Faces, down: Array) -> Pose:
    side = np.cross(down, [1.0, 0, 0] if abs(down[0]) < 0.8 else [0, 1.0, 0])
    side /= np.linalg.norm(side)
    rotation = np.stack([side, np.cross(-down, side), -down])
    turned = vertices @ rotation.T
    scale = 1 / np.sqrt(4 * silhouette(turned[:, :2], faces)[0] / np.pi)
    a, b, c = (turned[faces[:, k]] * scale for k in range(3))
    volume = float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)
    return Pose(rotation, float(scale), volume, float(np.ptp(turned[:, 2]) * scale))


def make_shape(kind: Kind, family: Family, rng: np.random.Generator) -> Shape:
    """Make one random shape of a kind."""
    if kind == "chaff":
        vertices, faces = _chaff(rng)
    else:
        directions, faces = icosphere(SUBDIVISIONS[kind])
        stretch = np.array(PROPORTIONS[kind]) * np.exp(rng.normal(0, 0.12, 3))
        vertices = (_cut if family == "cut" else _crumbled)(directions, kind, rng) * stretch
    middle = vertices.mean(axis=0)
    patches = _waves(vertices - middle, rng, 3, 16, 24)
    tone = np.exp(0.22 * patches) if kind != "chaff" else np.exp(0.06 * patches)
    return Shape(vertices - middle, faces, tone, _poses(vertices - middle, faces, kind, rng))


def make_library(family: Family, rng: np.random.Generator) -> dict[Kind, list[Shape]]:
    """Shapes of every kind for one picture."""
    return {kind: [make_shape(kind, family, rng) for _ in range(MESHES_OF_A_KIND)] for kind in KINDS}
