#include "core/mesh/mesh.h"

#include <fmt/format.h>

#include <random>

#include "core/mesh/features.h"
#include "core/mesh/triangulate.h"
#include "core/validate/validate.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using testing::raft;

double worst_corner(const Mesh& mesh) {  // sine of the sharpest turn; ≤ 0: inverted
    double worst = 1;
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        const Polygon p = mesh.polygon(e);
        for (size_t i = 0; i < p.size(); ++i) {
            const Point a = p[(i + 1) % p.size()] - p[i], b = p[(i + p.size() - 1) % p.size()] - p[i];
            worst = std::min(worst, cross(a, b) / (length(a) * length(b)));
        }
    }
    return worst;
}
double area(const Mesh& mesh) {
    double a = 0;
    for (int e = 0; e < int(mesh.elements.size()); ++e) a += mesh.area(e);
    return a;
}

TEST(Mesh, ARectangleIsALattice) {
    const Mesh m = build_mesh(raft(box(0, 0, 8, 6), 0.5, 1e4), 0.5);
    EXPECT_EQ(m.elements.size(), 16u * 12u);
    EXPECT_EQ(quality_of(m).quad_share, 1);
    EXPECT_NEAR(quality_of(m).smallest_angle, 90, 1e-9);
}

TEST(Mesh, TheDemoIsNearlyAllQuadrilateralsOfGoodShape) {
    const Model demo = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    const Mesh m = build_mesh(demo);
    const MeshQuality q = quality_of(m);
    EXPECT_GT(q.quad_share, 0.95);
    EXPECT_GT(q.smallest_angle, 15);
    EXPECT_LT(q.worst_aspect, 5);
    EXPECT_NEAR(area(m), net_area(demo), 1e-6);
}

TEST(Mesh, IsTheSameEveryTime) {
    const Model demo = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    const Mesh a = build_mesh(demo), b = build_mesh(demo);
    EXPECT_EQ(a.nodes, b.nodes);
    EXPECT_EQ(a.elements, b.elements);
}

TEST(Mesh, ConformsToOpeningsPatchesAndFootprintsAndHasANodeAtEachColumn) {
    Model m = raft(box(0, 0, 10, 8), 0.5, 1e4);
    m.slab.openings.push_back({"O", box(6, 3, 7, 4.5), {}});
    m.slab.patches.push_back({"T", box(1, 1, 3.3, 3), 0.9, Flush::top, "", {}});
    m.columns = {column("C1", 2, 2, 0.4), column("C2", 5.13, 6.07, 0.6)};
    m.columns[1].angle = 30;
    Column round = column("C3", 8, 6, 0.7);
    round.shape = ColumnShape::circle, round.size = {0.7};
    m.columns.push_back(round);
    const Mesh mesh = build_mesh(m);
    EXPECT_NEAR(area(mesh), 80 - 1.5, 1e-9);
    double patch = 0;
    std::array<double, 3> feet{};
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        if (mesh.patch[e] == 0) patch += mesh.area(e);
        if (mesh.footprint[e] >= 0) feet[size_t(mesh.footprint[e])] += mesh.area(e);
    }
    EXPECT_NEAR(patch, 2.3 * 2, 1e-9);
    EXPECT_NEAR(feet[0], 0.16, 1e-9);
    EXPECT_NEAR(feet[1], 0.36, 1e-9);
    EXPECT_NEAR(feet[2], 3.14159265 / 4 * 0.49, 1e-6);
    for (int k = 0; k < 3; ++k)
        EXPECT_LT(distance(mesh.nodes[size_t(mesh.column_node[size_t(k)])], m.columns[size_t(k)].at), 1e-6);
    // No cell of a footprint is larger than half of it.
    for (int e = 0; e < int(mesh.elements.size()); ++e)
        if (mesh.footprint[e] == 0) EXPECT_LE(box_of(mesh.polygon(e)).width(), 0.2 + 1e-9);
}

TEST(Mesh, RimsAreClosedChainsWithTheSlabOnTheirLeft) {
    Model m = raft(box(0, 0, 6, 5), 0.5, 1e4);
    m.slab.openings.push_back({"O", box(2, 2, 3, 3), {}});
    const Mesh mesh = build_mesh(m);
    ASSERT_EQ(mesh.rims.size(), 2u);
    auto enclosed = [&](size_t r) {
        Polygon p;
        for (int i : mesh.rims[r]) p.push_back(mesh.nodes[size_t(i)]);
        return signed_area(p);
    };
    EXPECT_NEAR(enclosed(0), 30, 1e-9);
    EXPECT_NEAR(enclosed(1), -1, 1e-9);
}

TEST(Mesh, CircleAndRingKeepTheirAreas) {
    Model m = raft({}, 0.5, 1e4);
    m.slab.outline = Circle{{2, -1}, 7.5};
    EXPECT_NEAR(area(build_mesh(m)), 3.14159265 * 56.25, 1e-5);
    m.slab.outline = Ring{{0, 0}, 3, 6};
    EXPECT_NEAR(area(build_mesh(m)), 3.14159265 * 27, 1e-5);
}

TEST(Mesh, AColumnThatCrossesTheRimKeepsItsNode) {
    Model m = raft(box(0, 0, 8, 6), 0.5, 1e4);
    m.columns = {column("C1", 0.1, 3, 0.5), column("C2", 0.25, 0.25, 0.5)};  // one half off, one flush in the corner
    const Mesh mesh = build_mesh(m);
    EXPECT_GT(worst_corner(mesh), 0.02);
    EXPECT_NEAR(area(mesh), 48, 1e-9);
    for (size_t k = 0; k < 2; ++k) EXPECT_LT(distance(mesh.nodes[size_t(mesh.column_node[k])], m.columns[k].at), 2e-3);
}

TEST(Mesh, PointsAreFoundWithTheirWeights) {
    Model m = raft({{0, 0}, {7, 1}, {6, 6}, {1, 5}}, 0.5, 1e4);
    const Mesh mesh = build_mesh(m);
    const Finder finder(mesh);
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(0, 7);
    for (int i = 0; i < 500; ++i) {
        const Point p{u(random), u(random)};
        const Finder::Hit h = finder.at(p);
        if (!contains(std::get<Polygon>(m.slab.outline), p)) continue;
        ASSERT_GE(h.element, 0);
        Point back;
        for (int k = 0; k < corners(mesh.elements[h.element]); ++k)
            back = back + h.weight[size_t(k)] * mesh.nodes[size_t(mesh.elements[h.element][size_t(k)])];
        EXPECT_LT(distance(back, p), 1e-9);
    }
    EXPECT_EQ(finder.at({20, 20}).element, -1);
}

// Convex cells of any shape and size, rectangles and nearly triangles among them, up to a kilometre from the origin.
TEST(Mesh, WeightsAreTheInverseOfTheBilinearMap) {
    std::mt19937 random(11);
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    int tried = 0;
    for (int i = 0; i < 4000; ++i) {
        const Point far{u(-1000, 1000), u(-1000, 1000)};
        const double size = std::pow(10, u(-2, 1)), skew = i % 4 == 0 ? 0 : i % 4 == 1 ? 1e-9 : 0.9;
        Mesh mesh;
        for (Point corner : {Point{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
            mesh.nodes.push_back(far + size * turned(corner + Point{u(-skew, skew), u(-skew, skew)}, 17.0 * i));
        mesh.elements = {{0, 1, 2, 3}};
        if (worst_corner(mesh) < 0.02) continue;
        ++tried;
        for (int k = 0; k < 20; ++k) {
            const double xi = k < 4 ? (k % 2 ? 1 : -1) : u(-1, 1), eta = k < 4 ? (k / 2 ? 1 : -1) : u(-1, 1);
            const std::array<double, 4> wanted = {(1 - xi) * (1 - eta) / 4, (1 + xi) * (1 - eta) / 4,
                                                  (1 + xi) * (1 + eta) / 4, (1 - xi) * (1 + eta) / 4};
            Point p;
            for (size_t c = 0; c < 4; ++c) p = p + wanted[c] * mesh.nodes[c];
            const auto w = weights_at(mesh, 0, p);
            for (size_t c = 0; c < 4; ++c) EXPECT_NEAR(w[c], wanted[c], 1e-9 * std::max(1.0, 1 / size)) << i;
            // A place in its box, which is where one is looked for, lies in the cell or is told apart.
            const Polygon cell = mesh.polygon(0);
            const Box around = box_of(cell);
            const Point any{u(around.low.x, around.high.x), u(around.low.y, around.high.y)};
            if (distance_to_rim(cell, any) < 1e-4 * size) continue;
            const auto n = weights_at(mesh, 0, any);
            EXPECT_EQ(*std::min_element(n.begin(), n.end()) > 0, contains(cell, any)) << i;
        }
    }
    EXPECT_GT(tried, 2000);
}

// A thousand random slabs: star-shaped outlines with up to 14 corners, openings, patches, columns at any angle.
TEST(Mesh, FuzzOfAThousandOutlinesFindsNoInvertedElement) {
    std::mt19937 random(20261123);
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    int refused = 0, meshed = 0;
    for (int n = 0; meshed < 1000; ++n) {
        Model m = raft({}, 0.5, 1e4);
        const int sides = 3 + int(u(0, 12));
        Polygon outline;
        for (int i = 0; i < sides; ++i) {
            const double t = 6.283185307 * (i + u(-0.3, 0.3)) / sides, r = u(3, 8);
            outline.push_back({r * std::cos(t), r * std::sin(t)});
        }
        m.slab.outline = outline;
        if (u(0, 1) < 0.4) {
            const double a = u(0, 1.2);
            m.slab.openings.push_back(
                {"O", rectangle({u(-.5, .5), u(-.5, .5)}, 0.3 + a, 0.3 + u(0, 1.2), u(0, 90)), {}});
        }
        if (u(0, 1) < 0.4)
            m.slab.patches.push_back(
                {"T", rectangle({u(-3, 3), u(-3, 3)}, u(0.5, 4), u(0.5, 4), u(0, 90)), 0.8, Flush::top, "", {}});
        for (int k = 0; k < int(u(0, 5)); ++k) {
            Column c = column(fmt::format("C{}", k), u(-4, 4), u(-4, 4), u(0.2, 0.8));
            c.angle = u(0, 90);
            if (u(0, 1) < 0.3) c.shape = ColumnShape::circle, c.size = {u(0.2, 0.9)};
            if (on_slab(m, c.at)) m.columns.push_back(c);
        }
        const double size = u(0.35, 1.0);
        if (has_errors(problems_of(m))) continue;  // an opening that leaves a narrow star, columns that overlap
        ++meshed;
        try {
            const Mesh mesh = build_mesh(m, size);
            ASSERT_GT(worst_corner(mesh), 0) << "slab " << n;
            ASSERT_NEAR(area(mesh), net_area(m), 1e-3 * net_area(m)) << "slab " << n;
        } catch (const Trouble& t) {
            EXPECT_FALSE(t.problem.mend.empty());
            ++refused;
        }
    }
    EXPECT_LE(refused, 5);  // refusing with a sentence is allowed, but not a way out
}

TEST(Mesh, AColumnThinAsABladeIsALineToTheMesh) {
    Model m = raft(box(0, 0, 6, 5), 0.5, 20000);
    Column c;
    c.id = "C1", c.at = {3, 2.5}, c.size = {0.001, 2};
    m.columns = {c};
    m.mesh_size = 1;
    EXPECT_LT(build_mesh(m).nodes.size(), 2000u);  // 46 000 once
}

TEST(Mesh, TheSizeAtAPlaceIsTheLeastOfAllThatAskForOne) {
    Model m = raft(box(0, 0, 20, 14), 0.5, 20000);
    m.columns = {column("A", 3, 3, 0.3), column("B", 3.9, 3, 0.2), column("C", 15, 9, 0.8),
                 column("D", 19.5, 0.6, 0.25)};
    SlabPatch t;
    t.id = "T", t.outline = box(14.2, 8.1, 17, 11.15);
    m.slab.patches = {t};
    const Features f = gather_features(m, 0.7, true);
    ASSERT_GE(f.sources.size(), 4u);
    for (int k = 0; k < 5000; ++k) {
        const Point p{20.0 * (k % 71) / 70, 14.0 * double(k / 71) / 70};
        double least = f.size;
        for (const SizeSource& s : f.sources)
            least = std::min(least, s.size + size_growth * std::max(0.0, distance(p, s.at) - s.reach));
        EXPECT_DOUBLE_EQ(f.size_at(p), least) << p.x << ", " << p.y;
    }
}

TEST(Mesh, ConformsToPatchesOfGroundWhereTheyAct) {
    Model m = raft(box(0, 0, 9, 7), 0.5, 20000);
    GroundPatch g;
    g.id = "G", g.outline = {{-2, 1.3}, {4.7, -1}, {6.1, 5.2}, {1.9, 9}};  // reaches off the slab on two sides
    m.ground.patches = {g};
    m.ground.model = GroundModel::patches;
    const Mesh mesh = build_mesh(m);
    double inside = 0;
    for (int e = 0; e < int(mesh.elements.size()); ++e) {
        const Polygon cell = mesh.polygon(e);
        const double common = std::abs(signed_area(clip_to_convex(cell, g.outline)));
        EXPECT_LT(std::min(common, mesh.area(e) - common), 1e-6) << "a cell on two moduli";
        if (mesh.ground_patch[size_t(e)] == 0) inside += mesh.area(e);
    }
    EXPECT_NEAR(inside, std::abs(signed_area(clip_to_convex(box(0, 0, 9, 7), g.outline))), 1e-6);
    m.ground.model = GroundModel::uniform;  // elsewhere they are not in the way
    for (int patch : build_mesh(m).ground_patch) EXPECT_EQ(patch, -1);
}

// Ribs and walls will stand on them: every line of the model is there as sides of elements, by its owner, without gaps.
TEST(Mesh, KnowsWhoseLinesItsSidesLieOn) {
    Model m = raft(box(0, 0, 8, 6), 0.5, 1e4);
    m.slab.openings.push_back({"O", box(2, 2, 3, 3), {}});
    m.slab.patches.push_back({"T", box(4, 1, 7, 5), 0.8, Flush::top, "", {}});
    m.columns = {column("C", 5.5, 3)};
    m.ground.model = GroundModel::patches;
    m.ground.patches.push_back({"P", box(4, 0, 8, 6), 2e4, {}});  // its west side lies on the patch's
    const Mesh mesh = build_mesh(m);
    using Kind = LineOwner::Kind;
    std::map<std::pair<Kind, int>, double> length_of;
    for (const MeshLine& l : mesh.lines)
        length_of[{l.owner.kind, l.owner.index}] += distance(mesh.nodes[size_t(l.a)], mesh.nodes[size_t(l.b)]);
    EXPECT_NEAR((length_of[{Kind::rim, 0}]), 28, 1e-9);
    EXPECT_NEAR((length_of[{Kind::opening, 0}]), 4, 1e-9);
    EXPECT_NEAR((length_of[{Kind::patch, 0}]), 14, 1e-9);
    EXPECT_NEAR((length_of[{Kind::ground_patch, 0}]), 20, 1e-9);
    EXPECT_NEAR((length_of[{Kind::footprint, 0}]), 2, 1e-9);
    EXPECT_EQ(length_of.size(), 5u);
}

TEST(Mesh, TheHoleOfARingIsARimOfItsOwn) {
    Model m = raft({}, 0.5, 1e4);
    m.slab.outline = Ring{{0, 0}, 3, 6};
    const Mesh mesh = build_mesh(m);
    double inner = 0;
    for (const MeshLine& l : mesh.lines)
        if (l.owner == LineOwner{LineOwner::Kind::rim, 1})
            inner += distance(mesh.nodes[size_t(l.a)], mesh.nodes[size_t(l.b)]);
    EXPECT_NEAR(inner, 6 * 3.14159, 0.5);
}

TEST(Mesh, RunsAlongRibsAndWallsAndThroughTheColumnsOnThem) {
    Model m = raft(box(0, 0, 10, 8), 0.4, 20000);
    Rib r;
    r.id = "R1", r.path = {{1, 1}, {9, 1}, {9, 7}};
    m.ribs = {r};
    m.walls = {{"W1", {{2, 6}, {6.3, 3.1}}, 0.25, 3, false, 1, {}}};
    m.columns = {column("C1", 1, 1), column("C2", 5, 1), column("C3", 9, 1), column("C4", 7, 6)};
    const Mesh mesh = build_mesh(m);
    std::map<LineOwner::Kind, double> length_of;
    for (const MeshLine& l : mesh.lines)
        length_of[l.owner.kind] += distance(mesh.nodes[size_t(l.a)], mesh.nodes[size_t(l.b)]);
    EXPECT_NEAR(length_of[LineOwner::Kind::rib], 14, 1e-3);
    EXPECT_NEAR(length_of[LineOwner::Kind::wall], distance({2, 6}, {6.3, 3.1}), 1e-3);
    double in_footprints = 0;  // the columns on the rib keep their cells: no larger than half the footprint
    for (int e = 0; e < int(mesh.elements.size()); ++e)
        if (mesh.footprint[size_t(e)] >= 0) {
            in_footprints += mesh.area(e);
            EXPECT_LE(mesh.area(e), 0.0626);
        }
    EXPECT_NEAR(in_footprints, 4 * 0.25, 1e-6);
}

TEST(Mesh, AnOpeningThatCutsTheSlabThroughIsRefused) {
    Model m = raft(box(0, 0, 10, 4), 0.4, 20000);
    m.slab.openings = {{"O1", box(4, 0, 5, 4), {}}};
    try {
        build_mesh(m);
        FAIL() << "it was meshed";
    } catch (const Trouble& t) {
        EXPECT_NE(t.problem.what.find("O1 cuts the slab into parts"), std::string::npos) << t.problem.what;
    }
}

TEST(Mesh, LinesCloseToEachOtherLeaveNoSlivers) {
    // A rib that ends 4 cm before a patch, a wall 6 cm beside another's end, a column 3 cm off a rib.
    Model m = raft(box(0, 0, 12, 9), 0.4, 20000);
    Rib r;
    r.id = "R1", r.path = {{1, 2}, {4.96, 2}};
    m.ribs = {r};
    m.slab.patches = {{"T", box(5, 1, 8, 4), 0.8, Flush::top, "", {}}};
    m.walls = {{"W1", {{2, 6}, {7, 6}}, 0.25, 3, true, 1, {}}, {"W2", {{7.06, 5}, {7.06, 8}}, 0.25, 3, true, 1, {}}};
    m.columns = {column("C1", 3, 2.03, 0.4)};
    const Mesh mesh = build_mesh(m);
    EXPECT_GT(quality_of(mesh).worst_shape, 0.2);
    double along = 0;  // and the lines are still there, with their owners
    for (const MeshLine& l : mesh.lines)
        if (l.owner.kind == LineOwner::Kind::rib || l.owner.kind == LineOwner::Kind::wall)
            along += distance(mesh.nodes[size_t(l.a)], mesh.nodes[size_t(l.b)]);
    EXPECT_NEAR(along, 3.96 + 5 + 3, 2e-3);
}

// Lines of the model that cross at less than 15 degrees, or pass each other's ends, corners and crossings within 5 cm,
// force sharp cells whatever the mesh: such rafts are left out below.
bool lines_leave_room(const Model& m) {
    std::vector<std::vector<std::array<Point, 2>>> things;
    auto ring = [&](const Polygon& p) {
        things.emplace_back();
        for (size_t i = 0; i < p.size(); ++i) things.back().push_back({p[i], p[(i + 1) % p.size()]});
    };
    ring(std::get<Polygon>(m.slab.outline));
    for (const Opening& o : m.slab.openings) ring(o.outline);
    for (const SlabPatch& t : m.slab.patches) ring(t.outline);
    for (const Column& c : m.columns) ring(footprint(c));
    for (const Rib& r : m.ribs) things.push_back({{r.path[0], r.path[1]}});
    for (const Wall& w : m.walls) things.push_back({{w.path[0], w.path[1]}});
    std::vector<Point> meetings;
    for (size_t i = 0; i < things.size(); ++i)
        for (size_t k = 0; k < things.size(); ++k)
            for (const auto& [a, b] : things[i])
                for (const auto& [c, d] : things[k]) {
                    if (i == k) continue;
                    if (std::min(distance_to_segment(a, c, d), distance_to_segment(b, c, d)) < 0.05) return false;
                    const auto at = segment_crossing(a, b, c, d);
                    if (!at || i > k) continue;
                    if (std::abs(cross(unit(b - a), unit(d - c))) < std::sin(15 * M_PI / 180)) return false;
                    for (Point q : meetings)
                        if (distance(q, *at) < 0.05) return false;
                    meetings.push_back(*at);
                }
    return true;
}

TEST(Mesh, AThousandRandomRaftsWithRibsAndWallsMeshWellAndBalance) {
    std::mt19937 random(11);
    auto u = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    auto anywhere = [&] { return Point{u(-4, 4), u(-4, 4)}; };
    int poor = 0, meshed = 0;
    while (meshed < 1000) {
        Model m = raft({}, 0.5, 1e4);
        Polygon outline;
        const int sides = 4 + int(u(0, 8));
        for (int i = 0; i < sides; ++i) {
            const double t = 6.283185307 * (i + u(-0.3, 0.3)) / sides, r = u(5, 9);
            outline.push_back({r * std::cos(t), r * std::sin(t)});
        }
        m.slab.outline = outline;
        if (u(0, 1) < 0.4)
            m.slab.openings.push_back({"O", rectangle({u(-2, 2), u(-2, 2)}, u(0.3, 1.5), u(0.3, 1.5), u(0, 90)), {}});
        if (u(0, 1) < 0.4)
            m.slab.patches.push_back(
                {"T", rectangle({u(-3, 3), u(-3, 3)}, u(0.8, 4), u(0.8, 4), u(0, 90)), 0.8, Flush::top, "", {}});
        for (int k = 0; k < 2; ++k) {
            Rib r;
            r.id = fmt::format("R{}", k), r.flush = Flush::top, r.path = {anywhere(), anywhere()};
            m.ribs.push_back(r);
        }
        m.walls = {{"W", {anywhere(), anywhere()}, 0.25, 3, u(0, 1) < 0.5, 1, {}}};
        for (int k = 0; k < 3; ++k) {
            Column c = column(fmt::format("C{}", k), u(-4, 4), u(-4, 4), u(0.2, 0.8));
            c.angle = u(0, 90);
            if (on_slab(m, c.at)) m.columns.push_back(c);
        }
        m.mesh_size = u(0.35, 1.0);
        m.slab.self_weight = m.ground.tension = true;
        if (has_errors(problems_of(m)) || !lines_leave_room(m)) continue;
        const Mesh mesh = build_mesh(m);
        ++meshed;
        ASSERT_GT(worst_corner(mesh), 0);
        const MeshQuality q = quality_of(mesh);
        EXPECT_EQ(q.by_shape[0] + q.by_shape[1] + q.by_shape[2] + q.by_shape[3], q.elements);
        EXPECT_EQ(q.by_shape[3] > 0, q.worst_shape < 0.2);
        poor += q.worst_shape < 0.2;
        if (meshed % 50 == 0) EXPECT_LT(testing::only(*solve(m)).equilibrium_error, 1e-8);
    }
    EXPECT_EQ(poor, 0);
}

TEST(Triangulation, OfManyPointsEndsWhenItIsStoppedOnTheWay) {
    std::vector<Point> points;
    for (int i = 0; i < 300; ++i)
        for (int j = 0; j < 100; ++j) points.push_back({0.1 * i, 0.1 * j});
    std::atomic<bool> stop{true};
    Progress progress;
    progress.stop = &stop;
    EXPECT_THROW(triangulate(
                     points, {}, [](Point) { return true; }, progress),
                 Stopped);
    stop = false;
    EXPECT_EQ(triangulate(
                  points, {{0, 1, {}}}, [](Point) { return true; }, progress)
                  .added.size(),
              0u);
}

}  // namespace
}  // namespace mossbed
