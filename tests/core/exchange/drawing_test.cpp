// Drawings read as plans, written and read again, and spoilt ones.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <cstring>
#include <random>

#include "core/base/polygons.h"
#include "core/codes/combination_rules.h"
#include "core/exchange/drawing_writer.h"
#include "core/exchange/take_drawing.h"
#include "core/file/model_file.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using namespace testing;
using ::testing::ElementsAre;
using ::testing::HasSubstr;
using ::testing::UnorderedElementsAre;

// A DXF file put together group by group.
class Dxf {
  public:
    explicit Dxf(int unit = 4) : unit_(unit) {}
    Dxf& add(int code, const std::string& value) {
        entities_.push_back({code, value});
        return *this;
    }
    Dxf& add(int code, double value) { return add(code, fmt::format("{}", value)); }
    Dxf& line(const std::string& layer, Point a, Point b) {
        return add(0, "LINE").add(8, layer).add(10, a.x).add(20, a.y).add(11, b.x).add(21, b.y);
    }
    Dxf& ring(const std::string& layer, const std::vector<Point>& p, const std::vector<double>& bulges = {},
              bool closed = true) {
        add(0, "LWPOLYLINE").add(8, layer).add(90, double(p.size())).add(70, closed ? 1 : 0);
        for (size_t k = 0; k < p.size(); ++k) {
            add(10, p[k].x).add(20, p[k].y);
            if (k < bulges.size()) add(42, bulges[k]);
        }
        return *this;
    }
    Dxf& circle(const std::string& layer, Point c, double r) {
        return add(0, "CIRCLE").add(8, layer).add(10, c.x).add(20, c.y).add(40, r);
    }
    Dxf& text(const std::string& layer, Point at, const std::string& words) {
        return add(0, "TEXT").add(8, layer).add(10, at.x).add(20, at.y).add(40, 250.0).add(1, words);
    }
    Dxf& insert(const std::string& layer, const std::string& block, Point at, double turn = 0, double sx = 1,
                double sy = 1) {
        return add(0, "INSERT")
            .add(8, layer)
            .add(2, block)
            .add(10, at.x)
            .add(20, at.y)
            .add(50, turn)
            .add(41, sx)
            .add(42, sy);
    }
    Dxf& block(const std::string& name, Point base, const Dxf& of) {
        blocks_.push_back({0, "BLOCK"}), blocks_.push_back({2, name});
        blocks_.push_back({10, fmt::format("{}", base.x)}), blocks_.push_back({20, fmt::format("{}", base.y)});
        blocks_.insert(blocks_.end(), of.entities_.begin(), of.entities_.end());
        blocks_.push_back({0, "ENDBLK"});
        return *this;
    }
    Dxf& layer(const std::string& name, int flags, int color) {
        layers_.push_back({0, "LAYER"}), layers_.push_back({2, name});
        layers_.push_back({70, std::to_string(flags)}), layers_.push_back({62, std::to_string(color)});
        return *this;
    }
    using Groups = std::vector<std::pair<int, std::string>>;
    Groups groups() const {
        Groups g{{0, "SECTION"}, {2, "HEADER"},  {9, "$INSUNITS"}, {70, std::to_string(unit_)},
                 {0, "ENDSEC"},  {0, "SECTION"}, {2, "TABLES"}};
        g.insert(g.end(), layers_.begin(), layers_.end());
        g.insert(g.end(), {{0, "ENDSEC"}, {0, "SECTION"}, {2, "BLOCKS"}});
        g.insert(g.end(), blocks_.begin(), blocks_.end());
        g.insert(g.end(), {{0, "ENDSEC"}, {0, "SECTION"}, {2, "ENTITIES"}});
        g.insert(g.end(), entities_.begin(), entities_.end());
        g.insert(g.end(), {{0, "ENDSEC"}, {0, "EOF"}});
        return g;
    }
    std::string ascii() const {
        std::string out;
        for (const auto& [code, value] : groups()) out += fmt::format("{:3}\r\n{}\r\n", code, value);
        return out;
    }
    // Codes of two bytes; numbers by what their codes hold.
    std::string binary() const {
        std::string out("program Binary DXF\r\n\x1a\0", 22);
        auto put = [&](auto v) { out.append(reinterpret_cast<const char*>(&v), sizeof v); };
        for (const auto& [code, value] : groups()) {
            put(int16_t(code));
            if (code >= 10 && code <= 59)
                put(std::stod(value));
            else if (code >= 60 && code <= 79)
                put(int16_t(std::stoi(value)));
            else if (code >= 90 && code <= 99)
                put(int32_t(std::stod(value)));
            else
                out += value + '\0';
        }
        return out;
    }

  private:
    int unit_;
    Groups layers_, blocks_, entities_;
};

DrawnPlan plan_of(const Dxf& d, const PlanOptions& o = {}) { return read_plan(read_drawing(d.ascii()), o); }
std::string said(const DrawnPlan& p, Severity severity) {
    std::string out;
    for (const Problem& q : p.problems)
        if (q.severity == severity) out += q.sentence() + "\n";
    return out;
}
std::string errors(const DrawnPlan& p) { return said(p, Severity::error); }
std::string warnings(const DrawnPlan& p) { return said(p, Severity::warning); }
Polygon outline(const DrawnPlan& p) {
    const auto* ring = p.outline ? std::get_if<Polygon>(&*p.outline) : nullptr;
    return ring ? *ring : Polygon{};
}
bool is_ring(const Polygon& p, const Polygon& of) {
    if (p.size() != of.size()) return false;
    for (Point q : of)
        if (std::none_of(p.begin(), p.end(), [&](Point r) { return distance(q, r) < 1e-6; })) return false;
    return std::abs(std::abs(signed_area(p)) - std::abs(signed_area(of))) < 1e-6;
}
const Polygon ell_mm{{0, 0}, {14400, 0}, {14400, 6200}, {8100, 6200}, {8100, 11750}, {0, 11750}};
const Polygon ell{{0, 0}, {14.4, 0}, {14.4, 6.2}, {8.1, 6.2}, {8.1, 11.75}, {0, 11.75}};

TEST(DrawingFile, AnOutlineIsReadFromAPolylineInTheDrawingsUnit) {
    EXPECT_TRUE(is_ring(outline(plan_of(Dxf().ring("S-SLAB-EDGE", ell_mm))), ell));
    EXPECT_TRUE(is_ring(outline(plan_of(Dxf(6).ring("Raft", ell))), ell));
    PlanOptions o;
    o.unit = 0.0254;
    EXPECT_NEAR(box_of(outline(plan_of(Dxf(6).ring("Raft", ell), o))).width(), 14.4 * 0.0254, 1e-6)
        << "an option goes first";
}

TEST(DrawingFile, WithoutAUnitMillimetresOrMetresAreGuessedAndSaid) {
    const DrawnPlan mm = plan_of(Dxf(0).ring("SLAB", ell_mm)), m = plan_of(Dxf(0).ring("SLAB", ell));
    EXPECT_TRUE(is_ring(outline(mm), ell));
    EXPECT_TRUE(is_ring(outline(m), ell));
    EXPECT_THAT(warnings(mm), HasSubstr("it states no unit; mm is taken, which makes it 14.4 m by 11.8 m"));
}

TEST(DrawingFile, LinesInAnyOrderAndSenseMakeARingDespiteSmallGapsAndDoubles) {
    Dxf d;
    for (size_t k : {3u, 0u, 5u, 2u, 4u, 1u}) {
        const Point a = ell_mm[k], b = ell_mm[(k + 1) % 6] + Point{0.3, -0.2};
        k % 2 ? d.line("SLAB", a, b) : d.line("SLAB", b, a);
    }
    d.line("SLAB", ell_mm[0], ell_mm[1]).line("SLAB", {5, 5}, {5, 5});
    const DrawnPlan p = plan_of(d);
    EXPECT_EQ(errors(p), "");
    ASSERT_EQ(outline(p).size(), 6u);
    for (Point q : ell) EXPECT_LT(distance_to_rim(outline(p), q), 1e-3);
}

TEST(DrawingFile, ArcsAndBulgesBecomeChordsWithinTwoMillimetres) {
    // A quarter circle of 2 m at one corner, by its bulge and by an ARC.
    const double quarter = std::tan(3.14159265358979 / 8);
    const DrawnPlan bulge =
        plan_of(Dxf().ring("SLAB", {{0, 0}, {10000, 0}, {12000, 2000}, {12000, 8000}, {0, 8000}}, {0, quarter}));
    Dxf d;
    d.line("SLAB", {0, 0}, {10000, 0})
        .line("SLAB", {12000, 2000}, {12000, 8000})
        .line("SLAB", {12000, 8000}, {0, 8000});
    d.line("SLAB", {0, 8000}, {0, 0});
    d.add(0, "ARC").add(8, "SLAB").add(10, 10000.).add(20, 2000.).add(40, 2000.).add(50, -90.).add(51, 0.);
    const double area = 12 * 8 - 4 + 3.14159265358979;
    for (const DrawnPlan& p : {bulge, plan_of(d)}) {
        EXPECT_EQ(errors(p), "");
        const Polygon ring = outline(p);
        ASSERT_GT(ring.size(), 10u);
        EXPECT_LT(ring.size(), 40u) << "no finer than it must be";
        for (size_t k = 0; k < ring.size(); ++k) {
            const Point a = ring[k], b = ring[(k + 1) % ring.size()], c{10, 2};
            if (a.x < 10 - 1e-6 || b.x < 10 - 1e-6 || a.y > 2 + 1e-6 || b.y > 2 + 1e-6) continue;
            EXPECT_NEAR(distance(a, c), 2, 1e-6);
            EXPECT_GT(distance(0.5 * (a + b), c), 2 - 0.002);
        }
        EXPECT_NEAR(std::abs(signed_area(ring)), area, 2 * 3.2 * 0.002);
    }
}

TEST(DrawingFile, WhatIsOpenCrossesItselfOrLiesOutsideIsToldWithItsPlace) {
    Dxf open;
    open.line("SLAB", {0, 0}, {9000, 0})
        .line("SLAB", {9000, 0}, {9000, 5000})
        .line("SLAB", {9000, 5000}, {0, 5000})
        .line("SLAB", {0, 5000}, {0, 1200});
    EXPECT_THAT(errors(plan_of(open)), HasSubstr("the outline of the slab is open: 1.200 m lie between its ends at"));
    EXPECT_FALSE(plan_of(open).outline);
    const DrawnPlan tie = plan_of(Dxf().ring("SLAB", {{0, 0}, {9000, 5000}, {9000, 0}, {0, 5000}}));
    EXPECT_FALSE(tie.outline);
    EXPECT_THAT(errors(tie), HasSubstr("crosses itself near (4.500, 2.500)"));
    const DrawnPlan two = plan_of(Dxf().ring("SLAB", ell_mm).ring("SLAB", {{20000, 0}, {22000, 0}, {22000, 2000}}));
    EXPECT_TRUE(is_ring(outline(two), ell));
    EXPECT_THAT(errors(two), HasSubstr("a second outline, of 2.0 m²"));
}

TEST(DrawingFile, ARingWithinTheOutlineIsAnOpeningConcentricCirclesARing) {
    const DrawnPlan p =
        plan_of(Dxf().ring("SLAB", ell_mm).ring("SLAB", {{1000, 1000}, {2000, 1000}, {2000, 2000}, {1000, 2000}}));
    EXPECT_EQ(p.openings.size(), 1u);
    EXPECT_THAT(warnings(p), HasSubstr("is taken for an opening"));
    const DrawnPlan ring = plan_of(Dxf(6).circle("RAFT", {8, 8}, 7.5).circle("RAFT", {8, 8}, 3));
    ASSERT_TRUE(ring.outline);
    EXPECT_EQ(std::get<Ring>(*ring.outline), (Ring{{8, 8}, 3, 7.5}));
}

TEST(DrawingFile, ColumnsAreRectanglesAtAnyAngleCirclesAndBlocks) {
    Dxf block;
    block.ring("0", {{0, 0}, {400, 0}, {400, 600}, {0, 600}})
        .line("0", {0, 0}, {400, 600})
        .line("0", {400, 0}, {0, 600});
    Dxf outer;
    outer.insert("0", "RC", {100, 0}, 90);
    Dxf d;
    d.block("RC", {200, 300}, block).block("OUTER", {100, 0}, outer);
    d.ring("COLUMNS", rectangle({7000, 1500}, 400, 800, 30));
    d.circle("COLUMNS", {1500, 7000}, 250).text("COLUMNS", {1800, 7200}, "K7");
    d.insert("COLUMNS", "RC", {2000, 2000}).insert("COLUMNS", "OUTER", {5000, 5000}, 0, -1, 1);
    d.ring("COLUMNS", {{9000, 1000}, {9400, 1000}, {9400, 1800}, {9200, 1800}, {9200, 1400}, {9000, 1400}});
    const DrawnPlan p = plan_of(d);
    ASSERT_EQ(p.columns.size(), 4u);
    std::map<std::string, Column> by_place;
    for (const Column& c : p.columns) by_place[fmt::format("{:.1f} {:.1f}", c.at.x, c.at.y)] = c;
    EXPECT_THAT(by_place["7.0 1.5"].size,
                ElementsAre(::testing::DoubleNear(0.4, 1e-5), ::testing::DoubleNear(0.8, 1e-5)));
    EXPECT_NEAR(by_place["7.0 1.5"].angle, 30, 1e-3);
    EXPECT_EQ(by_place["1.5 7.0"].shape, ColumnShape::circle);
    EXPECT_EQ(by_place["1.5 7.0"].id, "K7");
    EXPECT_THAT(by_place["2.0 2.0"].size,
                ElementsAre(::testing::DoubleNear(0.4, 1e-5), ::testing::DoubleNear(0.6, 1e-5)));
    EXPECT_THAT(by_place["5.0 5.0"].size,
                ElementsAre(::testing::DoubleNear(0.6, 1e-5), ::testing::DoubleNear(0.4, 1e-5)));
    EXPECT_THAT(errors(p), HasSubstr("the column at (9.233, 1.333) is neither rectangle nor circle"));
}

TEST(DrawingFile, WallsLinesPatchesAndTheirWords) {
    Dxf d;
    d.ring("SLAB", ell_mm);
    d.ring("WALLS", {{7000, 500}, {7250, 500}, {7250, 5500}, {7000, 5500}});
    d.ring("WALLS", {{1000, 1000}, {5000, 1000}, {5000, 4000}}, {}, false).add(43, 300.);
    d.line("GRID", {-500, 1000}, {15000, 1000}).text("GRID", {-900, 900}, "A").circle("GRID", {-900, 1000}, 400);
    d.ring("PATCHES", {{10000, 1000}, {13000, 1000}, {13000, 4000}, {10000, 4000}})
        .text("PATCHES", {11000, 2000}, "patch, 850 thick");
    d.ring("PATCHES", {{1000, 7000}, {3000, 7000}, {3000, 9000}, {1000, 9000}});
    const DrawnPlan p = plan_of(d);
    EXPECT_EQ(errors(p), "");
    ASSERT_EQ(p.walls.size(), 2u);
    EXPECT_NEAR(p.walls[0].thickness, 0.25, 1e-6);
    EXPECT_NEAR(p.walls[0].path[0].x, 7.125, 1e-6);
    EXPECT_NEAR(p.walls[1].thickness, 0.3, 1e-6);
    EXPECT_EQ(p.walls[1].path.size(), 3u);
    ASSERT_EQ(p.lines.size(), 1u);
    EXPECT_EQ(p.lines[0].id, "A");
    ASSERT_EQ(p.patches.size(), 2u);
    EXPECT_NEAR(p.patches[0].thickness, 0.85, 1e-9);
    EXPECT_THAT(warnings(p), HasSubstr("the patch at (2.000, 8.000) says no thickness"));
}

TEST(DrawingFile, WhatIsHiddenOrNotReadIsToldNotTaken) {
    Dxf d;
    d.layer("COLUMNS", 1, 7).layer("OPENINGS", 0, -7).ring("SLAB", ell_mm);
    d.circle("COLUMNS", {1000, 1000}, 250).circle("OPENINGS", {3000, 1000}, 250);
    d.ring("SLAB", {{0, 0}, {1, 0}, {1, 1}}).add(67, 1.);  // of the paper space
    d.add(0, "SPLINE").add(8, "SLAB").add(0, "HATCH").add(8, "SLAB").add(0, "ELLIPSE").add(8, "NOTES");
    const DrawnPlan p = plan_of(d);
    EXPECT_TRUE(is_ring(outline(p), ell));
    EXPECT_TRUE(p.columns.empty());
    EXPECT_TRUE(p.openings.empty());
    EXPECT_THAT(errors(p), HasSubstr("layer \"COLUMNS\" is frozen"));
    EXPECT_THAT(errors(p), HasSubstr("layer \"OPENINGS\" is switched off"));
    EXPECT_THAT(errors(p), HasSubstr("1 SPLINE on \"SLAB\" is not read"));
    EXPECT_THAT(warnings(p), HasSubstr("1 HATCH on \"SLAB\""));
    PlanOptions o;
    o.layers["COLUMNS"] = LayerRole::columns;
    EXPECT_EQ(plan_of(d, o).columns.size(), 1u) << "named by somebody, it is meant";
    o.layers = {{"NO SUCH", LayerRole::slab}};
    EXPECT_THAT(errors(plan_of(d, o)), HasSubstr("it has no layer \"NO SUCH\""));
}

TEST(DrawingFile, ShapesBeyondAllMeaningAreNotRead) {
    const DrawnPlan p = plan_of(Dxf().ring("SLAB", ell_mm).line("SLAB", {0, 0}, {1e300, 5}));
    EXPECT_TRUE(is_ring(outline(p), ell));
    EXPECT_THAT(errors(p), HasSubstr("1 LINE with spoilt numbers on \"SLAB\" is not read"));
    Dxf d;  // a vertex, a block's base, a flag
    d.add(0, "POLYLINE").add(8, "SLAB").add(70, 1.);
    for (const char* x : {"0", "9000", "9x00"}) d.add(0, "VERTEX").add(8, "SLAB").add(10, x).add(20, "0");
    d.add(0, "SEQEND").insert("COLUMNS", "B", {1000, 1000});
    d.add(0, "LWPOLYLINE").add(8, "OPENINGS").add(70, "1-").add(10, 0.).add(20, 0.);
    std::string text = d.block("B", {0, 0}, Dxf().circle("0", {0, 0}, 200)).ascii();
    text.replace(text.find(" 10\r\n0\r\n"), 8, " 10\r\nO\r\n");
    const DrawnPlan spoilt = read_plan(read_drawing(text));
    EXPECT_TRUE(spoilt.none());
    EXPECT_THAT(errors(spoilt), HasSubstr("1 POLYLINE with spoilt numbers on \"SLAB\""));
    EXPECT_THAT(errors(spoilt), HasSubstr("INSERT of block B, which is not there"));
    EXPECT_THAT(errors(spoilt), HasSubstr("1 LWPOLYLINE with spoilt numbers on \"OPENINGS\""));
}

TEST(DrawingFile, OriginsAreTakenOffAndNationalGridsAreNoticed) {
    Polygon far;
    for (Point q : ell) far.push_back(q + Point{512345.678, 187654.321});
    PlanOptions o;
    o.origin = Point{512345.678, 187654.321};
    EXPECT_TRUE(is_ring(outline(plan_of(Dxf(6).ring("SLAB", far), o)), ell));
    const DrawnPlan p = plan_of(Dxf(6).ring("SLAB", far));
    EXPECT_EQ(p.origin, (Point{512345, 187654}));
    EXPECT_THAT(warnings(p), HasSubstr("as in a national grid"));
    EXPECT_LT(box_of(outline(p)).low.x, 1);
}

TEST(DrawingFile, BinaryFilesHoldTheSameAsTheirText) {
    Dxf d;
    d.ring("SLAB", ell_mm, {0, 0.2}).circle("COLUMNS", {1000, 1000}, 300).text("COLUMNS", {1100, 1100}, "C9");
    d.insert("COLUMNS", "B", {3000, 3000}, 15).block("B", {0, 0}, Dxf().ring("0", rectangle({0, 0}, 300, 500, 0)));
    const DrawingFile binary = read_drawing(d.binary());
    EXPECT_TRUE(binary.is_binary);
    const DrawnPlan a = plan_of(d), b = read_plan(binary);
    EXPECT_EQ(a.outline, b.outline);
    EXPECT_EQ(a.columns, b.columns);
    EXPECT_EQ(a.columns.size(), 2u);
}

TEST(DrawingFile, OtherFilesAreRefusedByNameAndCutOnesSaidToBe) {
    auto refusal = [](const std::string& bytes) {
        try {
            read_drawing(bytes);
        } catch (const Trouble& t) {
            return t.problem.sentence();
        }
        return std::string();
    };
    EXPECT_THAT(refusal(std::string("AC1032\0\0\0\0\0binary", 17)), HasSubstr("DWG"));
    EXPECT_THAT(refusal("%PDF-1.5"), HasSubstr("PDF"));
    EXPECT_THAT(refusal("hello\nworld\n"), HasSubstr("line 1: a group code is expected"));
    EXPECT_THAT(refusal(""), HasSubstr("no section"));
    std::string text = Dxf().ring("SLAB", ell_mm).circle("COLUMNS", {1000, 1000}, 250).ascii();
    text.resize(text.find("CIRCLE"));
    const DrawnPlan p = read_plan(read_drawing(text));
    EXPECT_THAT(errors(p), HasSubstr("it was cut off"));
}

// Something of every kind, at odd angles.
Model everything(std::mt19937& random) {
    auto u = [&](double a, double b) {
        return std::round((a + (b - a) * double(random() % 10001) / 10000) * 1000) / 1000;
    };
    Model m = raft(box(0, 0, 30, 20), u(0.4, 1.2), 20000);
    m.slab.outline = Polygon{{u(-3, 0), u(-3, 0)}, {30, 0}, {30, u(10, 20)}, {u(14, 16), 20}, {0, 20}};
    m.slab.top_level = u(-5, 5);
    m.slab.openings = {{"shaft", Polygon{{2, 2}, {3.5, 2}, {3.5, 3.25}, {2, 3.25}}, {}},
                       {"O2", Shape(Circle{{6, 3}, 0.45}), {}}};
    m.slab.patches = {{"T1", rectangle({12, 6}, 3, 2.5, u(-44, 44)), u(0.8, 1.4), Flush::bottom, "", {}}};
    for (int k = 0; k < 8; ++k) {
        Column c = column("K" + std::to_string(20 - k), u(4, 26), 9 + 1.2 * k);
        c.size = {u(0.3, 0.6), u(0.61, 1)};
        c.angle = u(-180, 180);
        if (k % 3 == 0) c.shape = ColumnShape::circle, c.size = {u(0.3, 0.9)};
        c.pedestal_height = k % 2 ? 0.5 : 0;
        m.columns.push_back(c);
    }
    m.columns[3].id = "Süd-Ø1";  // signs beyond ASCII
    m.walls = {{"W1", {{20, 3}, {24, 3}, {24, 7}, {20, 7}, {20, 3}}, 0.3, 4, true, 0.7, {}},
               {"core", {{1, 12}, {u(4, 6), 15}}, 0.2, 3, false, 1, {}}};
    m.ribs = {{"R1", {{1, 17}, {28, 17}}, 0.5, 1.3, Flush::top, "", OverOpenings::carry, 0.8, {}}};
    m.piles = {{"P1", {10, 2}, 0.75, 14, 250000, {}, 300, {}, {}}};
    m.setting_out = {{"A", {{-1, 2}, {31, 2}}, {}}, {"1", {{2, -1}, {2, 10}, {4, 21}}, {}}};
    m.ground.patches = {{"soft", {{15, 0}, {30, 0}, {30, 8}, {15, 8}}, 9000, {}}};
    return m;
}

TEST(DrawingFile, WhatIsWrittenReadsAgainAsTheSameModel) {
    std::mt19937 random(13);
    for (int trial = 0; trial < 20; ++trial) {
        const Model m = everything(random);
        const DrawnPlan p = read_plan(read_drawing(write_drawing(m)));
        EXPECT_EQ(errors(p), "");
        EXPECT_EQ(warnings(p), "");
        const Model back = take_drawing(new_model(), p).model;
        EXPECT_TRUE(is_ring(std::get<Polygon>(back.slab.outline), std::get<Polygon>(m.slab.outline)));
        EXPECT_EQ(back.slab.thickness, m.slab.thickness);
        EXPECT_EQ(back.slab.top_level, m.slab.top_level);
        auto by_id = [](auto list) {
            std::sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.id < b.id; });
            return list;
        };
        EXPECT_EQ(by_id(back.slab.openings), by_id(m.slab.openings));
        ASSERT_EQ(back.slab.patches.size(), 1u);
        EXPECT_TRUE(is_ring(back.slab.patches[0].outline, m.slab.patches[0].outline));
        EXPECT_EQ(back.slab.patches[0].thickness, m.slab.patches[0].thickness);
        EXPECT_EQ(back.slab.patches[0].flush, Flush::bottom);
        const auto columns = by_id(back.columns), expected = by_id(m.columns);
        ASSERT_EQ(columns.size(), expected.size());
        for (size_t k = 0; k < columns.size(); ++k) {
            EXPECT_EQ(columns[k].id, expected[k].id);
            EXPECT_LT(distance(columns[k].at, expected[k].at), 1e-6);
            EXPECT_EQ(columns[k].shape, expected[k].shape);
            ASSERT_EQ(columns[k].size.size(), expected[k].size.size());
            for (size_t i = 0; i < columns[k].size.size(); ++i)
                EXPECT_NEAR(columns[k].size[i], expected[k].size[i], 1e-5);
            EXPECT_EQ(columns[k].angle, expected[k].angle);
            EXPECT_EQ(columns[k].pedestal_height, expected[k].pedestal_height);
        }
        EXPECT_EQ(back.walls, m.walls);
        EXPECT_EQ(back.ribs, m.ribs);
        EXPECT_EQ(back.piles, m.piles);
        EXPECT_EQ(back.setting_out, m.setting_out);
        EXPECT_EQ(back.ground.patches, m.ground.patches);
    }
    Model ring = raft(box(0, 0, 1, 1), 0.6, 20000);
    ring.slab.outline = Ring{{8, 8}, 3, 7.5};
    EXPECT_EQ(take_drawing(new_model(), read_plan(read_drawing(write_drawing(ring)))).model.slab.outline,
              ring.slab.outline);
}

TEST(DrawingFile, TakenIntoAModelItReplacesTheOutlineAndAddsWhatIsNew) {
    Model m = raft(box(0, 0, 9, 7), 0.65, 20000);
    m.columns = {column("C1", 1.5, 1.5), column("C2", 7.5, 1.5)};
    load(m, {ColumnLoad{"C1", 100, 0, 0, 0, 0}, {}});
    Dxf d;
    d.ring("SLAB", ell_mm).ring("COLUMNS", rectangle({1500, 1500}, 500, 500, 0)).circle("COLUMNS", {5000, 4000}, 300);
    const TakenDrawing t = take_drawing(m, plan_of(d));
    EXPECT_TRUE(t.outline);
    EXPECT_TRUE(is_ring(std::get<Polygon>(t.model.slab.outline), ell));
    EXPECT_EQ(t.model.slab.thickness, 0.65);
    ASSERT_EQ(t.model.columns.size(), 3u);
    EXPECT_THAT(t.model.columns[0].size, ElementsAre(0.5, 0.5));
    EXPECT_EQ(t.model.columns[0].id, "C1");
    EXPECT_EQ(t.model.loads, m.loads);
    EXPECT_THAT(t.kept, ElementsAre("column C1"));
    EXPECT_THAT(t.added, ElementsAre("column C3")) << "C2 is taken by one that the drawing does not have";
    EXPECT_THAT(t.missing, ElementsAre("column C2"));
    EXPECT_TRUE(take_drawing(t.model, plan_of(d)).added.empty()) << "the same drawing again";
}

TEST(DrawingFile, RolesGoByTheWordsInLayerNames) {
    for (auto [name, role] : {std::pair{"S-SLAB-EDGE", LayerRole::slab},
                              {"RAFT", LayerRole::slab},
                              {"Foundation outline", LayerRole::slab},
                              {"SLAB OPENINGS", LayerRole::openings},
                              {"voids", LayerRole::openings},
                              {"SLAB_THICKENING", LayerRole::patches},
                              {"A-COLS", LayerRole::columns},
                              {"COLUMN GRID", LayerRole::lines},
                              {"WALLS", LayerRole::walls},
                              {"NOTES", LayerRole::none},
                              {"0", LayerRole::none},
                              {"SLAB-TEXT", LayerRole::none},
                              {"PILES", LayerRole::piles},
                              {"MATERIALS", LayerRole::none},
                              {"S-MAT", LayerRole::slab},
                              {"PROTOCOL", LayerRole::none},
                              {"S_COL_300", LayerRole::columns},
                              {"BASEMENT WALLS", LayerRole::walls}})
        EXPECT_EQ(role_by_name(name), role) << name;
}

// No crash, and nothing that is taken lies where nothing was drawn.
TEST(DrawingFile, OfAThousandSpoiltDrawingsNothingIsTakenWrongly) {
    Dxf d;
    d.layer("SLAB", 0, 7).ring("SLAB", ell_mm).circle("COLUMNS", {1000, 1000}, 250);
    d.block("RC", {0, 0}, Dxf().ring("0", rectangle({0, 0}, 400, 600, 0))).insert("COLUMNS", "RC", {3000, 3000}, 30);
    d.line("GRID", {0, 0}, {9000, 0});
    std::mt19937 random(99);
    int refused = 0, told = 0;
    for (int trial = 0; trial < 1500; ++trial) {
        std::string bytes = trial % 3 == 2 ? d.binary() : d.ascii();
        const size_t at = random() % bytes.size();
        if (trial % 3 == 0)
            bytes.resize(at);
        else if (random() % 2)
            bytes.insert(at, 1, "xZ\n#0-"[random() % 6]);
        else
            bytes.erase(at, 1 + random() % 4);
        try {
            const DrawnPlan p = read_plan(read_drawing(bytes));
            told += !p.problems.empty();
            take_drawing(new_model(), p);
        } catch (const Trouble& t) {
            EXPECT_FALSE(t.problem.mend.empty());
            ++refused;
        }
    }
    EXPECT_GT(refused, 50);
    EXPECT_GT(told, 300);
}

}  // namespace
}  // namespace mossbed
