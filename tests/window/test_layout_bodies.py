"""What the picture in space is made of: skins that are closed and have their outer side outside."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh

from zarvik.formats import shipped
from zarvik.project.layout.layout import layout, space_of
from zarvik.window.benches.layout.bodies import GHOST, GROUND, bodies_of, box, scroll


@pytest.mark.parametrize("demo", shipped.demo_names())
def test_every_body_is_closed_and_the_right_side_out(demo: str) -> None:
    """Independent library: trimesh. A face that is turned round, missing or twice is found; light falls on the outer side."""
    project = shipped.demo(demo)
    bodies = bodies_of(space_of(project), layout(project))
    assert len(bodies) > 10
    for body in bodies:
        if body.tint == GROUND:
            continue  # lines on a level, without a thickness
        mesh = trimesh.Trimesh(body.corners, body.triangles)
        assert mesh.is_watertight and mesh.is_winding_consistent and mesh.volume > 0.0, body.key


@pytest.mark.parametrize("demo", shipped.demo_names())
def test_coarse_bodies_stand_where_the_fine_ones_do(demo: str) -> None:
    """While everything turns: under two fifths of the triangles, no corner of the skin further than a tenth of a bore from the fine."""
    project = shipped.demo(demo)
    bodies = bodies_of(space_of(project), layout(project))
    tubes = [b for b in bodies if b.tubing is not None]
    assert sum(len(b.coarse()[1]) for b in tubes) < 0.4 * sum(len(b.triangles) for b in tubes)
    for body in tubes:
        corners, triangles = body.coarse()
        assert body.tubing is not None
        skin = trimesh.Trimesh(corners, triangles)
        fine = trimesh.Trimesh(body.corners, body.triangles)
        most = 0.1 * max(body.tubing.segment.bore_in, body.tubing.segment.bore_out)
        assert np.abs(skin.bounds - fine.bounds).max() < most, body.key
        # Half of the fine area is its outer skin, but for the wall and the rims
        assert 0.45 * fine.area < skin.area < 0.75 * fine.area, body.key
    rest = next(b for b in bodies if b.tubing is None and b.tint != GHOST)
    assert rest.coarse()[0] is rest.corners
    ghost = next(b for b in bodies if b.tint == GHOST)
    corners, edges = ghost.coarse()
    sides = sorted(np.linalg.norm(corners[edges[:, 0]] - corners[edges[:, 1]], axis=1))
    assert sides == pytest.approx(sorted([*np.ptp(ghost.corners, axis=0)] * 4)), "four edges each way"


def test_volumes_by_hand() -> None:
    """A box by its three sides; a ring of tube by Pappus, 2 pi^2 R r^2, less what its 40 and 16 corners cut off."""
    frame = layout(shipped.demo("tarn")).ports[0]
    assert trimesh.Trimesh(*box(frame, 0.10, 0.04, 0.02)).volume == pytest.approx(0.10 * 0.04 * 0.02)
    ring = trimesh.Trimesh(*scroll(np.array([0.1, 0.2, 0.3]), np.array([0.0, 0.6, 0.8]), 0.05, 0.02))
    polygons = (40 / (2 * math.pi) * math.sin(2 * math.pi / 40)) * (16 / (2 * math.pi) * math.sin(2 * math.pi / 16))
    assert ring.volume == pytest.approx(2 * math.pi**2 * 0.05 * 0.02**2 * polygons, rel=1e-3)
    assert ring.center_mass == pytest.approx([0.1, 0.2, 0.3], abs=1e-6)


def test_the_flange_covers_its_ports() -> None:
    """The flange and the slice of head behind it hold every port, and lie behind the face that the pipes begin at."""
    project = shipped.demo("fell")
    found = layout(project)
    space = space_of(project)
    for bank in (0, 1):
        ports = [p for c, p in enumerate(found.ports, 1) if space.head.bank_of(c) == bank]
        for part in ("flange", "head"):
            body = next(b for b in bodies_of(space, found) if b.key == f"{part}:{bank}")
            low, high = body.corners.min(axis=0), body.corners.max(axis=0)
            for port in ports:
                assert all(low[:2] <= port.origin[:2]) and all(port.origin[:2] <= high[:2]), (part, bank)
            out = 1.0 if bank == 0 else -1.0
            assert max(out * (z - ports[0].origin[2]) for z in (low[2], high[2])) < 1e-9
