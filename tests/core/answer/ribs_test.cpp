// Ribs, walls and patches at their true level in whole answers: against section theory, statics and each other.
#include <fmt/ranges.h>

#include "core/codes/code.h"
#include "core/fields/cut_forces.h"
#include "core/fields/member_lines.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

constexpr double E = 33e6;  // kPa

// 12 × 1.2 m, 0.3 m thick, two columns on a rib 0.4 × 0.9 m along its middle; turned about the origin.
Model ribbed_strip(Flush flush, double degrees = 0) {
    auto at = [&](double x, double y) { return turned({x, y}, degrees); };
    Model m = raft({at(0, 0), at(12, 0), at(12, 1.2), at(0, 1.2)}, 0.3, 20000, 33000, 0.0);
    m.ground.tension = true;
    m.mesh_size = 0.2;
    Rib r;
    r.id = "R1", r.path = {at(0, 0.6), at(12, 0.6)}, r.width = 0.4, r.depth = 0.9, r.flush = flush;
    m.ribs = {r};
    for (auto [id, x, N] : {std::tuple{"C1", 3.0, 600.0}, {"C2", 9.0, 400.0}}) {
        m.columns.push_back(column(id, 0, 0, 0.4));
        m.columns.back().at = at(x, 0.6), m.columns.back().angle = degrees, m.columns.back().stiff_footprint = false;
        load(m, {ColumnLoad{id, N}, {}});
    }
    return m;
}

// Values of a rib at s, linear between its stations.
double along(const MemberLine& line, const Eigen::MatrixXd& v, double s) {
    for (size_t i = 0; i + 1 < line.stations.size(); ++i) {
        const double a = line.stations[i].s, b = line.stations[i + 1].s;
        if (s >= a && s <= b && b > a) return v(long(i), 0) + (s - a) / (b - a) * (v(long(i) + 1, 0) - v(long(i), 0));
    }
    return std::nan("");
}

// A shear-flexible beam of 12 m on springs k (kN/m²) under forces spread over a width (m), by its own 600 exact pieces:
// settlements every 2 cm.
std::vector<double> beam_on_springs(double EI, double GA, double k, double width,
                                    const std::vector<std::pair<double, double>>& forces) {
    constexpr double L = 12;
    const int n = 600;
    const double l = L / n, phi = 12 * EI / (GA * l * l), f = EI / (l * l * l * (1 + phi));
    Eigen::Matrix4d one;
    one << 12, 6 * l, -12, 6 * l, 6 * l, (4 + phi) * l * l, -6 * l, (2 - phi) * l * l, -12, -6 * l, 12, -6 * l, 6 * l,
        (2 - phi) * l * l, -6 * l, (4 + phi) * l * l;
    Eigen::MatrixXd K = Eigen::MatrixXd::Zero(2 * n + 2, 2 * n + 2);
    for (int i = 0; i < n; ++i) K.block<4, 4>(2 * i, 2 * i) += f * one;
    Eigen::VectorXd p = Eigen::VectorXd::Zero(2 * n + 2);
    for (int i = 0; i <= n; ++i) {
        const double share = i == 0 || i == n ? l / 2 : l;
        K(2 * i, 2 * i) += k * share;
        for (auto [x, N] : forces)
            if (const double off = std::abs(i * l - x); off < width / 2 + 1e-9)
                p[2 * i] += N / width * (off > width / 2 - 1e-9 ? l / 2 : l);
    }
    const Eigen::VectorXd x = K.ldlt().solve(p);
    std::vector<double> s;
    for (int i = 0; i <= n; ++i) s.push_back(x[2 * i]);
    return s;
}

TEST(Ribs, AStripWithARibIsABeamOfItsTeeSectionOnTheGround) {
    const double A1 = 0.36, A2 = 0.24, I = 1.2 * 0.027 / 12 + 0.4 * 0.216 / 12 + A1 * A2 / 0.6 * 0.45 * 0.45;
    const auto by_hand = beam_on_springs(E * I, E / 2 * 5.0 / 6 * 0.6, 20000 * 1.2, 0.4, {{3, 600}, {9, 400}});
    const auto a = solve(ribbed_strip(Flush::bottom));
    for (double x : {0.0, 1.5, 3.0, 6.0, 9.0, 12.0})
        EXPECT_NEAR(settlement(*a, {x, 0.6}), by_hand[size_t(std::lround(x / 0.02))], 0.01 * by_hand[150]) << x;
}

TEST(Ribs, StandingOrHangingDiffersInTheSignOfItsForceOnlyAndMidwayIsSofter) {
    const auto up = solve(ribbed_strip(Flush::bottom)), down = solve(ribbed_strip(Flush::top)),
               midway = solve(ribbed_strip(Flush::middle));
    ASSERT_EQ(up->members.size(), 1u);
    const MemberLine &r = up->members[0], &q = down->members[0];
    for (double s : {1.5, 2.6, 4.5, 6.0, 7.5}) {
        const double size = std::abs(along(r, r.N_alone, 2.6));
        EXPECT_NEAR(along(r, r.N_alone, s), -along(q, q.N_alone, s), 1e-4 * size);
        EXPECT_NEAR(along(r, r.M, s), along(q, q.M, s), 1e-4 * std::abs(along(r, r.M, 2.6)));
    }
    for (double x : {0.0, 3.0, 6.0}) EXPECT_NEAR(settlement(*up, {x, 0.6}), settlement(*down, {x, 0.6}), 1e-8);
    EXPECT_GT(settlement(*midway, {3, 0.6}), 1.02 * settlement(*up, {3, 0.6}));
}

TEST(Ribs, MomentAndShearAlongARibCloseWithWhatActsBeyond) {
    const auto a = solve(ribbed_strip(Flush::top));
    const MemberLine& r = a->members[0];
    for (double s : {1.5, 4.5, 6.1, 7.5}) {  // between nodes: their forces lie to one side
        double M = 0, V = 0;                 // of all to the right: pressures up, columns down
        for (size_t i = 0; i < a->mesh.nodes.size(); ++i)
            if (const double arm = a->acts_at(int(i)).x - s; arm > 0) {
                const double F = only(*a).spring[i] * a->shares.area[i];
                M += F * arm, V += F;
            }
        for (auto [x, N] : {std::pair{3.0, 600.0}, {9.0, 400.0}})
            if (x > s) M -= N * (x - s), V -= N;
        EXPECT_NEAR(along(r, r.M, s), M, 0.02 * std::abs(M) + 1.5) << s;
        EXPECT_NEAR(along(r, r.V, s), -V, 0.03 * std::abs(V) + 4) << s;
        EXPECT_NEAR(along(r, r.T, s), 0, 0.5);
    }
    EXPECT_NEAR(r.stations[30].flange, 1.2, 0.02);  // EN 1992-1-1 (5.7a): all of the narrow strip
    for (const MemberLine::Station& t : r.stations)
        EXPECT_EQ(t.in_support, std::abs(t.s - 3) < 0.2 || std::abs(t.s - 9) < 0.2) << t.s;
}

TEST(Ribs, AModelTurnedByThirtyDegreesHasTheSameSectionForces) {
    const auto straight = solve(ribbed_strip(Flush::top)), askew = solve(ribbed_strip(Flush::top, 30));
    const MemberLine &r = straight->members[0], &q = askew->members[0];
    for (double s : {1.5, 3.0, 4.5, 6.0, 7.5, 9.0}) {
        EXPECT_NEAR(along(q, q.M, s), along(r, r.M, s), 0.02 * std::abs(along(r, r.M, 3)));
        EXPECT_NEAR(along(q, q.N_alone, s), along(r, r.N_alone, s), 0.02 * std::abs(along(r, r.N_alone, 3)));
        EXPECT_NEAR(along(q, q.V, s), along(r, r.V, s), 0.02 * std::abs(along(r, r.V, 1.5)) + 3);
    }
}

// 12 × 9 m with a loop of ribs and one across, four columns, and a wall on the loop's end.
Model cellar(bool mirrored = false) {
    auto at = [&](double x, double y) { return Point{mirrored ? 12 - x : x, y}; };
    Model m = raft(anticlockwise({at(0, 0), at(12, 0), at(12, 9), at(0, 9)}), 0.35, 15000);
    m.slab.self_weight = true;
    Rib loop, across;
    loop.id = "R1", loop.path = {at(1, 1), at(11, 1), at(11, 8), at(1, 8), at(1, 1)}, loop.flush = Flush::top;
    across.id = "R2", across.path = {at(5, 1), at(5, 8)}, across.flush = Flush::top;
    loop.depth = across.depth = 0.9;
    m.ribs = {loop, across};
    m.walls = {{"W1", {at(11, 2), at(11, 7)}, 0.25, 3, true, 1, {}}};
    int n = 0;
    for (Point p : {at(1, 1), at(5, 1), at(11, 8), at(1, 8)}) {
        m.columns.push_back(column("C" + std::to_string(++n), p.x, p.y, 0.4));
        load(m, {ColumnLoad{m.columns.back().id, 400.0 + 150 * n}, {}});
    }
    load(m, {WallLoad{"W1", 60}, {}});
    load(m, {RibLoad{"R2", 25}, {}});
    m.loads.combinations->at(0).purpose = Purpose::strength;
    return m;
}

TEST(Ribs, TheMirrorImageHasTheSameForces) {
    const auto a = solve(cellar()), b = solve(cellar(true));
    for (Point p : {Point{1, 1}, {5, 4}, {9, 8}, {11, 5}})
        EXPECT_NEAR(settlement(*a, p), settlement(*b, {12 - p.x, p.y}), 0.002 * settlement(*a, {1, 1}));
    const MemberLine &r = a->members[1], &q = b->members[1];
    for (double s : {1.0, 2.5, 3.5, 5.0})
        EXPECT_NEAR(along(r, r.M, s), along(q, q.M, s), 0.005 * r.M.cwiseAbs().maxCoeff()) << s;
}

TEST(Ribs, AnyCutClosesWithStaticsAndSaysWhatRibsCarry) {
    Model m = cellar();
    m.mesh_size = 0.25;
    const auto a = solve(m);
    for (double turn : {0.0, 90.0, 30.0}) {
        const CutForces forces(*a, {0}, turned({1, 0}, turn));
        for (double t : {2.3, 4.1, 6.6, 7.7}) {
            const CutForces::Cut cut = forces.at(t);
            ASSERT_FALSE(cut.members.empty());
            double M = 0, V = 0, N = 0;
            for (double n = -12; n < 14; n += 1.3) {
                for (const CutShare& s : forces.share(cut, n, n + 1.3))
                    M += s.M[0] - s.N[0] * s.e, V += s.V[0], N += s.N[0];
                if (const MemberShare s = forces.members_between(cut, n, n + 1.3); !s.none())
                    M += s.M[0], V += s.V[0], N += s.N[0];
            }
            EXPECT_NEAR(M, cut.M[0], 1e-6 * cut.size_M[0]);
            EXPECT_NEAR(V, cut.V[0], 1e-6 * (1 + cut.size_V[0]));
            EXPECT_NEAR(N, 0, 1e-6 * cut.size_M[0]);
            // and the recovered field says nearly the same by itself
            EXPECT_NEAR(cut.field_M[0], cut.M[0], 0.05 * cut.size_M[0]) << turn << " " << t;
        }
    }
    const auto in_strips = a->steel.strips.at(0).sections;
    EXPECT_TRUE(std::any_of(in_strips.begin(), in_strips.end(), [](const SectionRow& r) { return r.M_members; }));
}

TEST(Ribs, TheWorkingOfAStripSaysWhatRibsAndSlabCarryAndClosesOnItsDesignMoment) {
    Model m = raft({{0, 0}, {10, 0}, {10, 6}, {0, 6}}, 0.4, 20000);
    m.slab.self_weight = true;
    Rib r;
    r.id = "R1", r.path = {{0, 3}, {10, 3}}, r.flush = Flush::top, r.depth = 1.2;
    m.ribs = {r};
    m.columns = {column("C1", 2, 3, 0.4), column("C2", 8, 3, 0.4)};
    for (const char* id : {"C1", "C2"}) load(m, {ColumnLoad{id, 900}, {}});
    m.loads.combinations->front().purpose = Purpose::strength;
    const auto a = solve(m);
    int with_ribs = 0, outside = 0;
    for (const Row& row : a->checks) {
        if (row.id != "bending") continue;
        std::map<std::string, double> by;
        std::string formula;
        bool in_support = false;
        for (const Term& t : row.working) {
            if (!t.symbol.empty()) by[t.symbol] = t.value;
            if (t.symbol == "M_d") formula = t.formula;
            in_support |= t.text.find("inside a support") != std::string::npos;
        }
        ASSERT_TRUE(by.count("M_s") && by.count("P")) << row.title;  // the slab stretches everywhere
        with_ribs += by.count("M_r") > 0;
        if (in_support) continue;
        ++outside;
        const double sense = row.item.find("top") == std::string::npos ? 1 : -1;
        double wanted = std::max(0.0, sense * by["M_s"] + by["P"] + by["T"]);
        if (by.count("M_line")) wanted = std::max(wanted, by["r"] * by["M_line"]);  // the band of a single line
        EXPECT_NEAR(by["M_d"], sense * wanted, 1e-6 * (1 + std::abs(by["M_d"]))) << row.title << " " << formula;
        // The whole moment is what the rib carries and what the slab does, all about one level: no step here.
        if (by.count("M_r")) EXPECT_NEAR(by["M"], by["M_r"] + by["M_s"], 1e-6 * (1 + std::abs(by["M"]))) << row.title;
    }
    EXPECT_GT(with_ribs, 0);
    EXPECT_GT(outside, 0);
}

TEST(Ribs, AWallThatStiffensKeepsTheSlabStraightAndCarriesTheMoment) {
    // 12 × 3 m under 300 kN/m in its middle: the slab by itself bends by 7 mm.
    Model m = raft(box(0, 0, 12, 3), 0.35, 10000);
    m.ground.tension = true;
    m.walls = {{"W1", {{0, 1.5}, {12, 1.5}}, 0.25, 3, false, 1, {}}};
    load(m, {LineLoad{{{4.5, 1.5}, {7.5, 1.5}}, {300, 300}}, {}});
    auto bend = [](const Answer& a) { return settlement(a, {6, 1.5}) - settlement(a, {0, 1.5}); };
    const auto plain = solve(m);
    m.walls[0].stiffens = true;
    const auto stiff = solve(m);
    EXPECT_NEAR(bend(*plain), 0.00699, 0.0001);
    // Tee of 3 × 0.35 m of slab and 0.25 × 3 m of wall, centroids 1.675 m apart, as a shear-flexible beam
    const double I = 3 * 0.042875 / 12 + 0.25 * 27 / 12 + 1.05 * 0.75 / 1.8 * 1.675 * 1.675;
    // of which either slab and wall or the wall alone bears the shear
    auto by_hand = [&](double A_shear) {
        const auto s = beam_on_springs(E * I, E / 2.4 * 5.0 / 6 * A_shear, 10000 * 3, 3, {{6, 900}});
        return s[300] - s[0];
    };
    EXPECT_GT(bend(*stiff), by_hand(1.8));
    EXPECT_LT(bend(*stiff), by_hand(0.75));
    m.walls[0].stiffness_factor = 0.1;
    EXPECT_GT(bend(*solve(m)), 2 * bend(*stiff));
    const MemberLine& w = stiff->members.at(0);
    EXPECT_EQ(w.kind, Member::Kind::wall);
    EXPECT_LT(along(w, w.N_alone, 6.1), -50);  // above the slab, pressed where the whole sags
    EXPECT_GT(along(w, w.M_alone, 6.1), 50);
    EXPECT_EQ(w.M.size(), 0);
}

TEST(Patches, AtTheirTrueLevelFlushTopAndBottomMirrorEachOther) {
    // A thick cross on the middle of a slab stiffens more where it is eccentric, alike on either side.
    auto bent = [](Flush flush) {
        Model m = raft(box(0, 0, 10, 10), 0.4, 10000);
        m.slab.patches = {{"T1", box(0.5, 4, 9.5, 6), 0.8, flush, "", {}}};
        load(m, {AreaLoad{box(4, 4, 6, 6), 400}, {}});
        const auto a = solve(m);
        return settlement(*a, {5, 5}) - settlement(*a, {0, 5});
    };
    const double top = bent(Flush::top), bottom = bent(Flush::bottom), middle = bent(Flush::middle);
    EXPECT_NEAR(top, bottom, 1e-9);
    EXPECT_LT(top, 0.97 * middle);
}

TEST(Patches, ThroughTheWholeWidthTheFlushFaceDoesNotMatter) {
    // No cut can carry a force in the plane: a stepped beam.
    auto at = [](Flush flush) {
        Model m = raft(box(0, 0, 12, 1.2), 0.4, 20000, 33000, 0.0);
        m.mesh_size = 0.2, m.ground.tension = true;
        m.slab.patches = {{"T1", box(4, 0, 8, 1.2), 0.8, flush, "", {}}};
        load(m, {PointLoad{{6, 0.6}, 500, 0, 0}, {}});
        return settlement(*solve(m), {6, 0.6});
    };
    EXPECT_NEAR(at(Flush::top), at(Flush::middle), 0.004 * at(Flush::middle));
}

TEST(Ribs, LiftOffAndCoupledGroundWorkOnFiveUnknowns) {
    Model m = cellar();
    m.loads.cases[0].items.push_back({PointLoad{{11.5, 0.5}, -900, 0, 0}, {}});
    const auto a = solve(m);
    EXPECT_EQ(only(*a).ending, Ending::solved);
    EXPECT_LT(only(*a).contact_ratio, 0.99);
    EXPECT_LT(only(*a).equilibrium_error, 1e-8);
    Stratum clay;
    clay.id = "clay", clay.E = 12;
    m.ground.strata = {clay};
    m.ground.boreholes = {{"B1", {6, 4}, 0.0, -3.0, {{"clay", -14, {}}}, {}, {}}};
    m.ground.model = GroundModel::coupled;
    const auto c = solve(m);
    EXPECT_EQ(only(*c).ending, Ending::solved);
    EXPECT_LT(only(*c).compatibility, 1e-4);
    EXPECT_LT(only(*c).equilibrium_error, 1e-8);
}

TEST(Ribs, SpansEndAtColumnsCrossingRibsAndCorners) {
    const Model m = cellar();
    const std::vector<RibSpan> spans = rib_spans(m, m.ribs[0]);
    // columns at the corners (1,1), (11,8), (1,8) and at (5,1); R2 at (5,8); the corner (11,1)
    std::vector<double> ends;
    for (const RibSpan& s : spans) ends.push_back(s.to);
    const std::vector<double> expected{4, 10, 17, 23, 27, 34};
    ASSERT_EQ(ends.size(), expected.size()) << fmt::format("{:.2f}", fmt::join(ends, " "));
    for (size_t i = 0; i < ends.size(); ++i) EXPECT_NEAR(ends[i], expected[i], 0.25);
    EXPECT_TRUE(
        std::none_of(spans.begin(), spans.end(), [](const RibSpan& s) { return s.begins_free || s.ends_free; }));
    const ClearWidths beside = clear_beside(m, m.ribs[1], {5, 4}, {0, 1});
    EXPECT_NEAR(beside.left, (4 - 0.4) / 2, 1e-6);  // half way to the loop's side
    EXPECT_NEAR(beside.right, (6 - 0.4) / 2, 1e-6);
}

// Clauses: EN 1992-1-1 | 5.3.2.1, (5.7a), (5.7b), Figure 5.2 | effective width of the flange of a rib, columns standing
// for supports
TEST(EN1992_5_3_2_1, TheFlangeOfARibFollowsClearWidthAndZeroMoments) {
    const auto code = make_code(Settings{});
    using Kind = DesignCode::SpanKind;
    EXPECT_NEAR(code->zero_moment_distance(Kind::inner, 6, 0), 4.2, 1e-12);  // Figure 5.2
    EXPECT_NEAR(code->zero_moment_distance(Kind::end, 6, 0), 5.1, 1e-12);
    EXPECT_NEAR(code->zero_moment_distance(Kind::cantilever, 2, 6), 2.9, 1e-12);
    EXPECT_NEAR(code->flange_overhang(2.0, 4.2), 0.2 * 2.0 + 0.42, 1e-12);  // (5.7a)
    EXPECT_NEAR(code->flange_overhang(9, 4.2), 0.84, 1e-12);                // no more than 0.2 l0
    EXPECT_NEAR(code->flange_overhang(0.3, 4.2), 0.3, 1e-12);               // nor than there is
    // R2 of the cellar, 7 m long, spans from the loop's one side to the other: 0.7 · 7 between points of zero moment;
    // 1.8 m of slab clear to its left, 2.8 to its right.
    const auto a = solve(cellar());
    const MemberLine& r = a->members[1];
    const auto middle = std::find_if(r.stations.begin(), r.stations.end(), [](const auto& t) { return t.s > 3.5; });
    EXPECT_NEAR(middle->flange, 0.4 + (0.2 * 1.8 + 0.49) + (0.2 * 2.8 + 0.49 > 0.98 ? 0.98 : 0.2 * 2.8 + 0.49), 1e-6);
}

}  // namespace
}  // namespace mossbed
