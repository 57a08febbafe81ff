// A pad under one column, everything by statics, and a raft with bars; shared by the tests of strips and of design.
#pragma once
#include "tests/core/helpers.h"

namespace mossbed::testing {

// 4 × 4 × 0.7 m, column 0.5 m, 1.35 · 1200 + 1.5 · 900 = 2970 kN: p = 185.625 kPa
inline Model pad_model() {
    Model m = raft(box(0, 0, 4, 4), 0.7, 2000, 1e6);
    m.columns = {column("C1", 2, 2)};
    load(m, {ColumnLoad{"C1", 2970, 0, 0, 0, 0}, {}});
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    m.steel.cover_bottom = m.steel.cover_top = 50;
    m.steel.bottom_x = m.steel.bottom_y = {20, 150};
    m.steel.top_x = m.steel.top_y = {16, 200};
    m.mesh_size = 0.25;
    // One strip each way over the whole width, so that statics gives every number.
    m.steel.strips = std::vector<Strip>{{"X1", Direction::x, {Point{0, 2}, Point{4, 2}}, {2, 2}, {}},
                                        {"Y1", Direction::y, {Point{2, 0}, Point{2, 4}}, {2, 2}, {}}};
    return m;
}

// So wide, m, whatever the column; two thirds.
inline BandRule band_of(double width) {
    return {[width](const Column&, double) { return width; }, 2.0 / 3};
}

// A weightless raft with ϕ20 at 150 mm all over, C30, for one strength combination "S" of case "G".
inline Model designed_raft(Polygon outline, double thickness = 0.6) {
    Model m = raft(std::move(outline), thickness, 15000);
    m.steels = {Steel{}};
    m.steel.steel = "B500", m.steel.cover_top = 40, m.steel.cover_bottom = 50;
    m.steel.top_x = m.steel.top_y = m.steel.bottom_x = m.steel.bottom_y = {20, 150};
    m.concretes[0].fck = 30;
    m.mesh_size = 0.5;
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    return m;
}

}  // namespace mossbed::testing
