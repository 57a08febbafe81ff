// The Cut as primitives: heights and levels, what it shows of the ground, what can be taken hold of.
#include "drawing/cut.h"

#include "drawing/ground_parts.h"
#include "drawing/labels.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

Model on_strata() {  // made ground over clay over sand, three boreholes; the slab's top a metre deep
    Model m = raft(box(0, 0, 12, 8), 0.6, 20000);
    m.columns = {column("C1", 2, 4), column("C2", 10, 4), column("C3", 6, 1)};
    m.slab.top_level = -1;
    for (const char* id : {"made", "clay", "sand"}) {
        Stratum s;
        s.id = id, s.E = 12;
        m.ground.strata.push_back(s);
    }
    for (auto [id, x, clay] : {std::tuple{"BH1", -3.0, -7.0}, {"BH2", 15.0, -4.0}, {"BH3", 6.0, -6.0}}) {
        Borehole b;
        b.id = id, b.at = {x, id == std::string("BH3") ? 9.0 : 4.0}, b.ground_level = 0, b.water_level = -0.5;
        b.layers = {{"made", -2, {}}, {"clay", clay, {}}, {"sand", -15, {}}};
        b.blow_counts = {{-0.8, 4, {}}, {-3, 6, {}}, {-9, 30, {}}};
        m.ground.boreholes.push_back(b);
    }
    load(m, {ColumnLoad{"C1", 900, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"C2", 500, 0, 0, 0, 0}, {}});
    return m;
}

struct Section {
    std::shared_ptr<const Answer> answer;
    AlongLine along;
    std::optional<SoilProfile> profile;
    CutScene scene;
    Box paper;
    explicit Section(const Model& m, std::array<Point, 2> line) : answer(solve(m)) {
        along = along_line(*answer, answer->combinations[0], line);
        if (!m.ground.boreholes.empty()) profile.emplace(m.ground);
        scene.model = answer->model.get(), scene.along = &along, scene.profile = profile ? &*profile : nullptr;
        scene.line = line, scene.wide = true, scene.moment = true;
        paper.add({0, 24}), paper.add({940, 250});
    }
    CutDrawing draw() const { return cut_drawing(scene, paper); }
};
std::vector<std::pair<Layer, Text>> texts(const Drawing& d) {
    std::vector<std::pair<Layer, Text>> out;
    for (const Mark& m : d.marks)
        if (auto* t = std::get_if<Text>(&m.what)) out.push_back({m.layer, *t});
    return out;
}

TEST(AlongLine, ItsSamplesAreThoseOfTheAnswer) {
    // a rigid slab under an eccentric load: pressure runs linearly from 20 to 80 kPa along x
    Model m = raft(box(0, 0, 6, 4), 0.6, 10000, 1e8);
    load(m, {PointLoad{{3.6, 2}, 1200, 0, 0}, {}});
    const auto answer = solve(m);
    const AlongLine a = along_line(*answer, answer->combinations[0], {Point{-1, 2}, Point{7, 2}});
    ASSERT_GT(a.t.size(), 50u);
    for (size_t i = 0; i < a.t.size(); ++i) {
        const double x = a.t[i] - 1;
        EXPECT_EQ(bool(a.on[i]), x > -1e-9 && x < 6 + 1e-9) << x;
        if (!a.on[i]) continue;
        EXPECT_NEAR(a.pressure[i], 50 + 10 * (x - 3), 0.3);
        EXPECT_NEAR(a.settlement[i], (50 + 10 * (x - 3)) / 10, 0.03);  // mm: p over 10 000 kN/m³
    }
    ASSERT_EQ(a.stretches().size(), 1u);
    EXPECT_NEAR(a.t[size_t(a.stretches()[0].first)], 1, 0.15);
    EXPECT_NEAR(a.t[size_t(a.stretches()[0].second)], 7, 0.15);
}

TEST(AlongLine, MomentIsThatCarriedAlongTheLine) {
    Model m = raft(box(0, 0, 6, 4), 0.6, 10000);
    load(m, {PointLoad{{3, 2}, 500, 0, 0}, {}});
    const auto answer = solve(m);
    const auto& c = answer->combinations[0];
    const AlongLine along = along_line(*answer, c, {Point{-1, 2.6}, Point{7, 2.6}}),
                    across = along_line(*answer, c, {Point{3.6, -1}, Point{3.6, 5}});
    const size_t i = size_t(std::lround((3.6 + 1) / 8 * double(along.t.size() - 1))),
                 j = size_t(std::lround((2.6 + 1) / 6 * double(across.t.size() - 1)));
    EXPECT_NEAR(along.moment[i], moment(*answer, along.at(i), &PlateForces::mx), 3);
    EXPECT_NEAR(across.moment[j], moment(*answer, across.at(j), &PlateForces::my), 3);
}

TEST(Cut, HeightsGoToThePaperAndBack) {
    const Section s(on_strata(), {Point{-1, 4}, Point{13, 4}});
    const CutFrame f = s.draw().frame;
    for (double level : {-0.4, -1.0, -1.3, -1.6, -1.7, -5.0, -14.0}) EXPECT_NEAR(f.level_at(f.y(level)), level, 1e-9);
    EXPECT_NEAR(f.y(-1), f.view.origin.y, 1e-9);  // the top of the slab
    EXPECT_LT(f.y(-1), f.y(-1.6));
    EXPECT_LE(f.y(-15), s.paper.high.y);  // all of the ground that is shown
    EXPECT_NEAR((f.y(-1.6) - f.y(-1)) / 0.6, std::max(f.view.scale, 12 / 0.6), 1e-9);  // to scale, or visible
}

TEST(Cut, EveryStratumIsNamedOnThePaper) {
    const Section s(on_strata(), {Point{-1, 4}, Point{13, 4}});
    std::set<std::string> names;
    for (const auto& [layer, t] : texts(s.draw().drawing))
        if (layer == Layer::names) names.insert(t.text);
    EXPECT_TRUE(names.count("clay"));
    EXPECT_TRUE(names.count("sand"));
    for (const auto& [layer, t] : texts(s.draw().drawing)) {
        const double x = s.draw().frame.view.at(t.at).x;
        EXPECT_GE(x, s.paper.low.x) << t.text;
        EXPECT_LE(x, s.paper.high.x) << t.text;
    }
}

TEST(Cut, BlowCountsAreNotWrittenIntoTheSlab) {
    const Section s(on_strata(), {Point{-1, 4}, Point{13, 4}});
    const CutDrawing d = s.draw();
    int in_slab = 0, all = 0;
    for (const auto& [layer, t] : texts(d.drawing)) {
        if (t.text.rfind("N ", 0) != 0) continue;
        ++all;
        const double level = d.frame.level_at(d.frame.view.at(t.at).y);
        in_slab += t.at.x > 1 && t.at.x < 13 && level > -1.7;
    }
    EXPECT_EQ(in_slab, 0);
    EXPECT_EQ(all, 3 + 3 + 2);  // of BH3, in the middle, the one beside the slab is left out
}

TEST(Cut, BottomsOfLayersCanBeTakenHoldOf) {
    const Section s(on_strata(), {Point{-1, 4}, Point{13, 4}});
    const CutDrawing d = s.draw();
    const double t = 6 + 1;  // BH3
    const auto things = things_at(d.drawing, d.frame.view, {d.frame.x(t), d.frame.y(-6)});
    ASSERT_FALSE(things.empty());
    EXPECT_EQ(things[0], (Thing{ThingKind::borehole, "BH3", 1}));
}

TEST(Cut, PressureHangsFromTheTrueUnderside) {
    Model m = raft(box(0, 0, 8, 4), 0.5, 10000);
    SlabPatch p;
    p.id = "deep", p.outline = box(4, 0, 8, 4), p.thickness = 1.0, p.flush = Flush::top;
    m.slab.patches = {p};
    load(m, {SlabLoad{50}, {}});
    Section s(m, {Point{-1, 2}, Point{9, 2}});
    const CutDrawing d = s.draw();
    EXPECT_NEAR(d.frame.base_level, -1, 1e-9);
    Box b;
    for (const Mark& k : d.drawing.marks)
        if (auto* path = std::get_if<Path>(&k.what); path && k.layer == Layer::pressure && path->closed)
            for (const Polygon& r : *path->rings)
                for (Point q : r) b.add(q);
    EXPECT_NEAR(b.high.y, d.frame.up(-0.5), 1e-6);
    double at_deep = -1e9;
    for (const Mark& k : d.drawing.marks)
        if (auto* path = std::get_if<Path>(&k.what); path && k.layer == Layer::pressure && path->closed)
            for (Point q : (*path->rings)[0])
                if (q.x > 5.5) at_deep = std::max(at_deep, q.y);
    EXPECT_NEAR(at_deep, d.frame.up(-1), 1e-6);
}

TEST(Cut, ItsSettlementIsExaggeratedByARoundFactor) {
    const Section s(on_strata(), {Point{-1, 4}, Point{13, 4}});
    const CutDrawing d = s.draw();
    double f = d.settlement_factor;
    ASSERT_GT(f, 1);
    while (f >= 10) f /= 10;
    EXPECT_TRUE(std::abs(f - 1) < 1e-9 || std::abs(f - 2) < 1e-9 || std::abs(f - 5) < 1e-9) << f;
    // drawn: the difference along the curve is the real one times the factor
    double low = 1e9, high = -1e9, w0 = 1e9, w1 = -1e9;
    for (const Mark& k : d.drawing.marks)
        if (auto* p = std::get_if<Path>(&k.what); p && k.layer == Layer::settlement && p->stroke.width > 2)
            for (Point q : (*p->rings)[0]) low = std::min(low, q.y), high = std::max(high, q.y);
    for (size_t i = 0; i < s.along.t.size(); ++i)
        if (s.along.on[i]) w0 = std::min(w0, s.along.settlement[i]), w1 = std::max(w1, s.along.settlement[i]);
    EXPECT_NEAR(high - low, (w1 - w0) / 1000 * d.settlement_factor, 1e-9);
}

TEST(Cut, ALayerThatEndsAtTheMiddleOfTheEarthIsDrawnAsFarAsThePaperGoes) {
    for (double bottom : {-1e9, -2e4}) {  // each hatch line of it drawn took for ever
        Model m = on_strata();
        for (Borehole& b : m.ground.boreholes) b.layers.back().bottom = bottom;
        const Section s(m, {Point{-1, 4}, Point{13, 4}});
        const CutDrawing d = s.draw();
        for (const Mark& k : d.drawing.marks)
            if (auto* p = std::get_if<Path>(&k.what); p && !p->anchor)
                for (const Polygon& r : *p->rings)
                    for (Point q : r) EXPECT_LE(d.frame.view.at(q).y, s.paper.high.y + 1);
    }
}

TEST(Cut, OfManyColumnsOnlySomeAreNamedEachReadable) {
    Model m = on_strata();
    for (int i = 0; i < 60; ++i) m.columns.push_back(column("K" + std::to_string(i), 0.2 + 0.19 * i, 4.5, 0.1));
    const Section s(m, {Point{-1, 4}, Point{13, 4}});
    const CutDrawing cut = s.draw();
    Drawing none;
    const Labels ruler(none, cut.frame.view, s.paper);
    std::vector<Box> boxes;
    for (const auto& [layer, text] : texts(cut.drawing))
        if (layer == Layer::names) boxes.push_back(ruler.box_of(text));
    EXPECT_GT(boxes.size(), 10u);
    for (size_t i = 0; i < boxes.size(); ++i)
        for (size_t j = 0; j < i; ++j) EXPECT_FALSE(boxes[i].overlaps(boxes[j])) << i << " on " << j;
}

TEST(Cut, AnEmptyDeskSaysWhatWillStandThere) {
    Model none;
    none.slab.outline = Polygon{};
    CutScene s;
    s.model = &none;
    Box paper;
    paper.add({0, 0}), paper.add({400, 120});
    const CutDrawing d = cut_drawing(s, paper);
    ASSERT_EQ(texts(d.drawing).size(), 1u);
    EXPECT_NE(texts(d.drawing)[0].second.text.find("once there is a slab"), std::string::npos);
}

TEST(DepthChart, WritesWhatEachLayerSettles) {
    Model m = on_strata();
    m.ground.model = GroundModel::coupled;
    const auto answer = solve(m);
    const auto chart = depth_chart(*answer, "S", {2, 4});
    ASSERT_TRUE(chart);
    Box paper;
    paper.add({0, 0}), paper.add({300, 320});
    const Drawing d = depth_chart_drawing(*chart, m, paper);
    std::set<std::string> words;
    for (const auto& [layer, t] : texts(d)) words.insert(t.text);
    for (const auto& l : chart->layers) {
        char text[32];
        std::snprintf(text, sizeof text, "%.1f", 1000 * l.settlement);
        EXPECT_TRUE(words.count(text)) << text;
    }
    EXPECT_TRUE(words.count("limit"));
    for (const Mark& k : d.marks)
        if (auto* t = std::get_if<Text>(&k.what)) {
            EXPECT_GE(bare_paper().at(t->at).x, 0);
            EXPECT_LE(bare_paper().at(t->at).x, 300);
        }
}

Model ribbed() {
    Model m = raft(box(0, 0, 12, 8), 0.3, 10000);
    Rib along, across;
    along.id = "R1", along.path = {{11, 4}, {1, 4}}, along.depth = 0.9, along.flush = Flush::top;
    across.id = "R2", across.path = {{6, 0}, {6, 8}}, across.depth = 0.7, across.width = 0.5;
    across.flush = Flush::bottom;
    m.ribs = {along, across};
    m.walls = {{"W1", {{9, 1}, {9, 7}}, 0.2, 3, false, 1, {}}};
    load(m, {SlabLoad{30}, {}});
    load(m, {PointLoad{{3, 2}, 400, 0, 0}, {}});
    return m;
}

TEST(Cut, FindsWhatItCrossesAndRunsAlongAtItsLevel) {
    const auto found = members_in_cut(ribbed(), {Point{-1, 4.05}, Point{13, 4.05}});
    ASSERT_EQ(found.size(), 3u);
    EXPECT_EQ(found[0].thing.id, "R1");
    EXPECT_TRUE(found[0].is_along);
    EXPECT_NEAR(found[0].from, 2, 1e-9);
    EXPECT_NEAR(found[0].to, 12, 1e-9);
    EXPECT_EQ(found[0].levels, (Levels{-0.9, 0}));
    EXPECT_NEAR(found[0].s0 + found[0].sense * 12, 0, 1e-9);  // its path begins at the far end
    EXPECT_FALSE(found[1].is_along);
    EXPECT_NEAR(found[1].from, 6.75, 1e-9);
    EXPECT_NEAR(found[1].to, 7.25, 1e-9);
    EXPECT_NEAR(found[1].levels.low, -0.3, 1e-12);
    EXPECT_NEAR(found[1].levels.high, 0.4, 1e-12);
    EXPECT_TRUE(found[2].is_wall);
}

TEST(Cut, RibsStandAtTheirTrueLevelAndPressureHangsBelowThem) {
    Section s(ribbed(), {Point{-1, 2}, Point{13, 2}});  // crosses R2, which stands up
    CutDrawing d = s.draw();
    EXPECT_NEAR(d.frame.top_level, 0.4, 1e-9);
    auto extent = [&](Layer layer) {
        Box b;
        for (const Mark& k : d.drawing.marks)
            if (auto* path = std::get_if<Path>(&k.what); path && k.layer == layer)
                for (const Polygon& r : *path->rings)
                    for (Point q : r) b.add(q);
        return b;
    };
    EXPECT_NEAR(extent(Layer::ribs).high.y, d.frame.up(0.4), 1e-9);
    s.scene.line = {Point{-1, 4}, Point{13, 4}};
    s.along = along_line(*s.answer, only(*s.answer), s.scene.line);
    d = s.draw();
    EXPECT_NEAR(extent(Layer::ribs).low.y, d.frame.up(-0.9), 1e-9);
    double highest_under_rib = -1e9;
    for (const Mark& k : d.drawing.marks)
        if (auto* path = std::get_if<Path>(&k.what); path && k.layer == Layer::pressure && path->closed)
            for (Point q : (*path->rings)[0])
                if (q.x > 3 && q.x < 5) highest_under_rib = std::max(highest_under_rib, q.y);
    EXPECT_NEAR(highest_under_rib, d.frame.up(-0.9), 1e-6);
}

TEST(Cut, AlongARibItsOwnForcesAreDrawnAndElsewhereItSaysWhyNot) {
    Section s(ribbed(), {Point{-1, 4}, Point{13, 4}});
    s.scene.moment = true, s.scene.members = &s.answer->members, s.scene.combinations = {0};
    auto says = [&](const std::string& words) {
        const CutDrawing d = s.draw();
        return std::any_of(d.drawing.marks.begin(), d.drawing.marks.end(), [&](const Mark& k) {
            auto* t = std::get_if<Text>(&k.what);
            return t && t->text.find(words) != std::string::npos;
        });
    };
    EXPECT_TRUE(says("R1 M"));
    EXPECT_TRUE(says("kN·m"));
    s.scene.member_curve = MemberCurve::force;
    EXPECT_TRUE(says("R1 N"));
    s.scene.line = {Point{-1, 2}, Point{13, 2}};
    EXPECT_TRUE(says("this one does not"));
    s.scene.member_curve = MemberCurve::moment;  // then the slab's, per metre
    EXPECT_TRUE(says("kN·m/m"));
}

TEST(Cut, AnEnvelopeOfARibHasTheLargestAndDashedTheSmallest) {
    Model m = ribbed();
    Combination light;
    light.id = "light", light.purpose = Purpose::service, light.factors = {{"G", 0.4}};
    m.loads.combinations->push_back(light);
    Section s(m, {Point{-1, 4}, Point{13, 4}});
    s.scene.moment = true, s.scene.members = &s.answer->members;
    auto dashed = [&] {
        const CutDrawing d = s.draw();
        return std::count_if(d.drawing.marks.begin(), d.drawing.marks.end(), [](const Mark& k) {
            auto* p = std::get_if<Path>(&k.what);
            return p && k.layer == Layer::moment && p->stroke.dash == Dash::dashed;
        });
    };
    s.scene.combinations = {0};
    EXPECT_EQ(dashed(), 0);
    s.scene.combinations = {0, 1};
    EXPECT_EQ(dashed(), 1);
}

}  // namespace
}  // namespace mossbed
