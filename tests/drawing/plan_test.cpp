// The plan as primitives: what stands on it, in which layer, under which name, and that it can be read.
#include "drawing/plan.h"

#include "core/judge/checks.h"
#include "core/model/edit.h"
#include "drawing/labels.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

Model quay() { return *load_model(SOURCE_DIR "/tests/data/quay-on-springs.mossbed").model; }

struct Sheet {
    std::shared_ptr<const Answer> answer;
    FieldMap map;
    MapShapes shapes;
    PlanScene scene;
    View view;
    Box paper;
    Sheet(const Model& m, const std::string& combination, Quantity q = Quantity::pressure) : answer(solve(m)) {
        const CombinationAnswer* c = answer->find(combination);
        map = make_map(*answer, *c, q);
        shapes = shapes_of(answer->mesh, map, natural_bands(map, q), q);
        paper.add({0, 0}), paper.add({940, 470});
        Box room;
        room.add({74, 40}), room.add({896, 436});
        view.show(box_of(outer_rim(m.slab.outline, 0.5)), room);
        scene.model = answer->model.get(), scene.answer = answer.get(), scene.combination = c, scene.quantity = q;
        scene.shapes = &shapes;
        const Box b = box_of(outer_rim(m.slab.outline, 0.5));
        scene.cut = {Point{b.low.x - 1, b.middle().y}, Point{b.high.x + 1, b.middle().y}};
    }
    Drawing draw() const { return plan_drawing(scene, view, paper); }
};
int count(const Drawing& d, Layer layer) {
    return int(std::count_if(d.marks.begin(), d.marks.end(), [&](const Mark& m) { return m.layer == layer; }));
}
std::vector<Text> texts(const Drawing& d, std::optional<Layer> layer = {}) {
    std::vector<Text> out;
    for (const Mark& m : d.marks)
        if (auto* t = std::get_if<Text>(&m.what); t && (!layer || m.layer == *layer)) out.push_back(*t);
    return out;
}
// How many texts are written over one that was there before.
int written_over(const Drawing& d, const View& view, const Box& paper) {
    Drawing none;
    const Labels ruler(none, view, paper);
    std::vector<Box> taken;
    int bad = 0;
    for (const Text& t : texts(d)) {
        const Box b = ruler.box_of(t);
        bad += std::any_of(taken.begin(), taken.end(), [&](const Box& o) { return o.overlaps(b); });
        taken.push_back(b);
    }
    return bad;
}

TEST(Plan, WhatACoarseAnswerCannotKnowFadesWhileAHandMoves) {
    Sheet s(quay(), "S1", Quantity::mx);
    auto key = [&] {
        std::string all;
        for (const Text& t : texts(plan_key(s.scene, s.paper).drawing)) all += t.text + "\n";
        return all;
    };
    const int at_rest = count(s.draw(), Layer::map);
    EXPECT_EQ(key().find("no peaks yet"), std::string::npos);
    s.scene.moving = true;
    EXPECT_EQ(count(s.draw(), Layer::map), at_rest + 1);  // a veil
    EXPECT_NE(key().find("no peaks yet"), std::string::npos);
    // Uses of the last full answer are grey, and come from the rows that the Ledger keeps.
    s.scene.uses = true;
    const std::vector<Row> rows = s.answer->checks;
    Answer bare = *s.answer;
    bare.checks.clear();
    s.scene.answer = &bare, s.scene.rows = &rows;
    int uses = 0;
    for (const Text& t : texts(s.draw(), Layer::punching)) uses += t.tone.role == Role::faint;
    EXPECT_GE(uses, 3);
    // Settlement and pressure are what such an answer is for.
    Sheet p(quay(), "S1");
    const int before = count(p.draw(), Layer::map);
    p.scene.moving = true;
    EXPECT_EQ(count(p.draw(), Layer::map), before);
}

TEST(Plan, EverythingInTheModelCanBePickedWhereItStands) {
    Sheet s(quay(), "S1");
    s.scene.handles = true;
    const Drawing d = s.draw();
    const Model& m = *s.scene.model;
    auto first = [&](Point p) {
        const auto things = things_at(d, s.view, s.view.at(p));
        return things.empty() ? Thing{} : things.front();
    };
    for (const Column& c : m.columns) EXPECT_EQ(first(c.at), (Thing{ThingKind::column, c.id}));
    for (const Wall& w : m.walls) EXPECT_EQ(first(0.5 * (w.path[0] + w.path[1])), (Thing{ThingKind::wall, w.id}));
    for (const Opening& o : m.slab.openings) EXPECT_EQ(first(centroid(o.outline)), (Thing{ThingKind::opening, o.id}));
    for (const SlabPatch& p : m.slab.patches)
        EXPECT_EQ(first(0.52 * p.outline[0] + 0.48 * p.outline[1]), (Thing{ThingKind::patch, p.id}));
    const Polygon& ring = std::get<Polygon>(m.slab.outline);
    for (size_t i = 0; i < ring.size(); ++i) {
        EXPECT_EQ(first(ring[i]), (Thing{ThingKind::slab_corner, "", int(i)}));
        EXPECT_EQ(first(0.7 * ring[i] + 0.3 * ring[(i + 1) % ring.size()]), (Thing{ThingKind::slab_side, "", int(i)}));
    }
    EXPECT_EQ(first(s.scene.cut[0]), (Thing{ThingKind::cut, "", 0}));
    EXPECT_EQ(first(s.scene.cut[1]), (Thing{ThingKind::cut, "", 1}));
}

TEST(Plan, WithoutHandlesTheRimIsNotTakenInHand) {
    Sheet s(quay(), "S1");
    s.scene.show_cut = false;
    const Drawing d = s.draw();
    const Polygon& ring = std::get<Polygon>(s.scene.model->slab.outline);
    EXPECT_TRUE(things_at(d, s.view, s.view.at(0.7 * ring[0] + 0.3 * ring[1])).empty());
    EXPECT_EQ(count(d, Layer::handles), 0);
}

TEST(Plan, NoTwoTextsStandOnEachOther) {
    Sheet s(quay(), "S1");
    for (auto set : std::vector<void (*)(PlanScene&)>{[](PlanScene&) {}, [](PlanScene& p) { p.uses = true; },
                                                      [](PlanScene& p) { p.boreholes = true; },
                                                      [](PlanScene& p) { p.strips = true; }}) {
        Sheet one = s;
        set(one.scene);
        one.scene.flag = one.scene.model->columns[0].at, one.scene.flag_text = "110 kPa max";
        EXPECT_EQ(written_over(one.draw(), one.view, one.paper), 0);
    }
}

TEST(Plan, APatchIsNamedWhereThereIsRoomAlongIt) {
    Model m = *load_model(SOURCE_DIR "/examples/tern-quay.mossbed").model;
    Rib across;  // over the first half of the runway
    across.id = "R1", across.path = {m.columns[1].at, m.columns[9].at}, across.width = 0.4, across.depth = 1;
    m.ribs = {across};
    const Sheet s(m, "S.R+WX", Quantity::settlement);
    EXPECT_EQ(written_over(s.draw(), s.view, s.paper), 0);
}

TEST(Plan, ColumnsAreNamedWhereThereIsRoomAndChosenOnesAlways) {
    Sheet s(quay(), "S1");
    EXPECT_EQ(texts(s.draw(), Layer::names).size(), s.scene.model->columns.size() + s.scene.model->slab.patches.size());
    s.view.scale = 4;
    const size_t patches = s.scene.model->slab.patches.size();
    EXPECT_EQ(texts(s.draw(), Layer::names).size(), patches);
    s.scene.chosen = {{ThingKind::column, s.scene.model->columns[3].id}};
    EXPECT_EQ(texts(s.draw(), Layer::names).size(), patches + 1);
}

TEST(Plan, WhatIsChosenIsMarkedWhateverItIs) {
    Sheet s(quay(), "S1");
    const int none = count(s.draw(), Layer::chosen);
    EXPECT_EQ(none, 0);
    const Model& m = *s.scene.model;
    for (const Thing& t : {Thing{ThingKind::column, m.columns[0].id}, Thing{ThingKind::wall, m.walls[0].id},
                           Thing{ThingKind::opening, m.slab.openings[0].id},
                           Thing{ThingKind::patch, m.slab.patches[0].id}, Thing{ThingKind::slab_side, "", 2}}) {
        s.scene.chosen = {t};
        EXPECT_GT(count(s.draw(), Layer::chosen), 0) << int(t.kind);
    }
}

TEST(Plan, DiscsOfACaseHaveTheForceAsTheirArea) {
    Model m = raft(box(0, 0, 8, 6), 0.5, 20000);
    m.columns = {column("A", 2, 3), column("B", 6, 3)};
    load(m, {ColumnLoad{"A", 400, 0, 0, 0, 0}, {}});
    load(m, {ColumnLoad{"B", -100, 0, 0, 0, 0}, {}});
    Sheet s(m, "S");
    s.scene.load_case = "G";
    std::vector<Disc> discs;
    for (const Mark& k : s.draw().marks)
        if (auto* c = std::get_if<Disc>(&k.what); c && k.layer == Layer::loads) discs.push_back(*c);
    ASSERT_EQ(discs.size(), 2u);
    EXPECT_NEAR(discs[0].radius / discs[1].radius, 2, 1e-9);  // √(400/100)
    EXPECT_EQ(discs[0].stroke.tone.role, Role::moss);
    EXPECT_EQ(discs[1].stroke.tone.role, Role::rust);  // it pulls
    EXPECT_EQ(discs[1].stroke.dash, Dash::dashed);     // and not by colour alone
}

TEST(Plan, OfManyColumnsNoDiscOrNumberHidesAnother) {
    Model m = raft(box(0, 0, 160, 80), 0.5, 20000);
    m.mesh_size = 4;
    for (int i = 0; i < 50; ++i)
        for (int j = 0; j < 25; ++j) {
            m.columns.push_back(column(std::to_string(100 * i + j), 1.5 + 3.2 * i, 1.5 + 3.2 * j, 0.4));
            load(m, {ColumnLoad{m.columns.back().id, 400, 0, 0, 0, 0}, {}});
        }
    Sheet s(m, "S");
    s.scene.load_case = "G";
    const Drawing d = s.draw();
    std::vector<Disc> discs;
    for (const Mark& k : d.marks)
        if (auto* c = std::get_if<Disc>(&k.what); c && k.layer == Layer::loads) discs.push_back(*c);
    ASSERT_EQ(discs.size(), 1250u);
    for (const Disc& c : discs) EXPECT_LE(2 * c.radius, 3.2 * s.view.scale * 1.05);
    EXPECT_GT(texts(d, Layer::loads).size(), 20u);  // some of them
    EXPECT_EQ(written_over(d, s.view, s.paper), 0);
}

TEST(Plan, TheHairFollowsThePointerAlongTheCutOnASheetThatStays) {
    Sheet s(quay(), "S1");
    s.scene.show_cut = true;
    EXPECT_TRUE(plan_hair(s.scene).marks.empty());
    const size_t before = s.draw().marks.size();
    s.scene.hair = 5;
    EXPECT_EQ(s.draw().marks.size(), before);
    const Drawing hair = plan_hair(s.scene);
    ASSERT_EQ(hair.marks.size(), 1u);
    const Disc& disc = std::get<Disc>(hair.marks[0].what);
    const auto& [a, b] = s.scene.cut;
    EXPECT_NEAR(distance(disc.at, a), 5, 1e-9);
    EXPECT_NEAR(cross(b - a, disc.at - a), 0, 1e-9);
}

TEST(Plan, AnOlderAnswerStaysWithinTheSlabOfToday) {
    Sheet s(quay(), "S1");
    for (const Mark& m : s.draw().marks)
        if (m.layer == Layer::map) EXPECT_EQ(m.clip, nullptr);
    s.scene.clipped = true;
    int clipped = 0;
    for (const Mark& m : s.draw().marks)
        if (m.layer == Layer::map) {
            EXPECT_NE(m.clip, nullptr);
            ++clipped;
        }
    EXPECT_GT(clipped, 0);
}

TEST(Plan, AUseThatStandsForNothingHasNoColourOfItsOwn) {
    Sheet s(quay(), "S1");
    s.scene.uses = true;
    const Drawing d = s.draw();
    int open = 0;
    for (const Row& r : s.answer->checks)
        if (r.id == "punching" && r.status == Status::not_checked && find_id(s.scene.model->columns, r.item)) ++open;
    ASSERT_GT(open, 0);
    int faint = 0, written = 0;
    for (const Mark& m : d.marks)
        if (auto* p = std::get_if<Path>(&m.what); p && m.layer == Layer::punching)
            faint += p->stroke.tone.role == Role::faint && p->stroke.dash == Dash::dotted;
    for (const Text& t : texts(d, Layer::punching)) written += t.text == "?";
    EXPECT_EQ(written, open);
    EXPECT_GT(faint, 0);
}

TEST(Plan, ExtraBarsLieWhereTheyAreAtTheirSpacing) {
    Model m = raft(box(0, 0, 8, 6), 0.5, 20000);
    ExtraBars e;
    e.id = "E1", e.outline = box(1, 1, 5, 3), e.diameter = 20, e.spacing = 250, e.face = Face::bottom,
    e.direction = Direction::x;
    m.steel.extra = {e};
    load(m, {SlabLoad{10}, {}});
    Sheet s(m, "S");
    s.scene.strips = true;
    auto bars = [&] {
        std::vector<double> y;
        for (const Mark& k : s.draw().marks)
            if (auto* p = std::get_if<Path>(&k.what); p && k.layer == Layer::bars && !p->closed) {
                y.push_back((*p->rings)[0][0].y);
                EXPECT_NE(k.clip, nullptr);
            }
        return y;
    };
    ASSERT_EQ(bars().size(), 8u);  // 2 m at 250
    EXPECT_NEAR(bars()[1] - bars()[0], 0.25, 1e-12);
    EXPECT_EQ(texts(s.draw(), Layer::bars)[0].text, "ϕ20 at 250 bottom x");
    s.view.scale = 5;
    EXPECT_EQ(bars().size(), 2u);  // too close to be told apart: every fourth
    const auto things = things_at(s.draw(), s.view, s.view.at({3, 1}));
    ASSERT_FALSE(things.empty());
    EXPECT_EQ(things[0], (Thing{ThingKind::extra_bars, "E1"}));
}

TEST(Plan, AnEmptySheetSaysHowToBegin) {
    Model none;
    none.slab.outline = Polygon{};
    PlanScene s;
    s.model = &none;
    Box paper;
    paper.add({0, 0}), paper.add({600, 400});
    EXPECT_EQ(texts(plan_drawing(s, {}, paper)).size(), 1u);
    s.invite = false;
    EXPECT_TRUE(texts(plan_drawing(s, {}, paper)).empty());
    EXPECT_TRUE(plan_drawing({}, {}, paper).marks.empty());
}

TEST(Key, HasABandOfItsOwnAndIsReadableAtEveryWidth) {
    // Lifted at one end and over the allowable pressure at the other: everything that a key can say at once.
    Model m = raft(box(0, 0, 12, 4), 0.5, 10000);
    m.ground.allowable_pressure = 60;
    load(m, {PointLoad{{11, 2}, 1500, 0, 0}, {}});
    Sheet s(m, "S");
    s.scene.lifted = rings_of({box(0, 0, 3, 4)});
    s.scene.stale = true;
    for (double width : {640.0, 760.0, 940.0, 1500.0}) {
        Box band;
        band.add({0, 400}), band.add({width, 400 + plan_key_height});
        Drawing all = plan_key(s.scene, band).drawing;
        all.add(plan_scale_bar(s.view, band));
        Drawing none;
        const Labels ruler(none, bare_paper(), band);
        std::string said;
        std::vector<Box> taken;
        for (const Text& t : texts(all)) {
            const Box b = ruler.box_of(t);
            EXPECT_GE(b.low.x, 0) << t.text << " at " << width;
            EXPECT_LE(b.high.x, width + 1) << t.text << " at " << width;
            EXPECT_GE(b.low.y, 400 - 1) << t.text;
            EXPECT_LE(b.high.y, 400 + plan_key_height + 1) << t.text;
            for (const Box& other : taken) EXPECT_FALSE(other.overlaps(b)) << t.text << " at " << width;
            taken.push_back(b);
            said += t.text + "|";
        }
        for (const char* what : {"Contact pressure", "kPa", "allowable 60", "lifted", "of before the edit"})
            EXPECT_NE(said.find(what), std::string::npos) << what << " at " << width;
    }
}

TEST(Plan, AllThatAnOldAnswerSaysIsFadedAndTheModelIsNot) {
    Sheet s(quay(), "S1");
    s.scene.uses = s.scene.strips = true;
    s.scene.flag = Point{5, 5}, s.scene.flag_text = "0.91";
    const auto of_results = [](const Mark& m) {
        return m.layer == Layer::map || m.layer == Layer::lifted || m.layer == Layer::strips ||
               m.layer == Layer::punching;
    };
    for (const Mark& m : s.draw().marks) EXPECT_FALSE(m.faded);
    s.scene.stale = true;
    int faded = 0;
    for (const Mark& m : s.draw().marks) {
        if (of_results(m)) EXPECT_TRUE(m.faded);
        if (m.layer == Layer::columns || m.layer == Layer::rim || m.layer == Layer::walls) EXPECT_FALSE(m.faded);
        faded += m.faded;
    }
    EXPECT_GT(faded, 10);
}

TEST(Key, MarksTheAllowablePressureOnlyWhereTheCheckComparesIt) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 10000);
    m.ground.allowable_pressure = 70;
    load(m, {PointLoad{{3.6, 2}, 1200, 0, 0}, {}});
    auto says = [](const Sheet& s) {
        std::string all;
        for (const Text& t : texts(plan_key(s.scene, s.paper).drawing)) all += t.text + "\n";
        return all;
    };
    EXPECT_NE(says(Sheet(m, "S")).find("allowable 70 kPa"), std::string::npos);
    (*m.loads.combinations)[0].purpose = Purpose::strength;
    EXPECT_EQ(says(Sheet(m, "S")).find("allowable"), std::string::npos);
    const Combination service = (*raft(box(0, 0, 1, 1), 1, 1).loads.combinations)[0];
    EXPECT_EQ(limit_of_largest_pressure(m, service), 70);
    m.ground.model = GroundModel::coupled;
    EXPECT_EQ(limit_of_largest_pressure(m, service), std::nullopt);
}

TEST(SettingOut, LinesRunThroughTwoColumnsOrMore) {
    Model m = raft(box(0, 0, 6, 4), 0.5, 10000);
    m.columns = {column("A", 1, 1), column("B", 5, 1), column("C", 1, 3), column("D", 4, 3.3)};
    EXPECT_EQ(column_lines(m, true), std::vector<double>{1.0});
    EXPECT_EQ(column_lines(m, false), std::vector<double>{1.0});
}

TEST(Plan, RibsAreDashedWhereTheyAreHiddenAndCanBePicked) {
    Model m = quay();
    Rib r;
    r.id = "R1", r.path = {{2, 4}, {14, 4}, {14, 10}}, r.depth = 1.2, r.flush = Flush::top;
    m.ribs = {r};
    Sheet sheet(m, "S1");
    auto edges = [&] {
        std::vector<Dash> found;
        for (const Mark& k : sheet.draw().marks)
            if (auto* p = std::get_if<Path>(&k.what); p && k.thing && k.thing->kind == ThingKind::rib && p->closed)
                found.push_back(p->stroke.dash);
        return found;
    };
    EXPECT_EQ(edges(), std::vector<Dash>{Dash::dashed});
    const auto picked = things_at(sheet.draw(), sheet.view, sheet.view.at({8, 4.1}));
    EXPECT_TRUE(std::any_of(picked.begin(), picked.end(), [](const Thing& t) {
        return t == Thing{ThingKind::rib, "R1"};
    }));
    Model standing = m;
    standing.ribs[0].flush = Flush::bottom;
    sheet.scene.model = &standing;
    EXPECT_EQ(edges(), std::vector<Dash>{Dash::solid});
    EXPECT_EQ(written_over(sheet.draw(), sheet.view, sheet.paper), 0);
}

TEST(Plan, ARibIsNamedBesideItHoweverItRuns) {
    for (double degrees : {0.0, 25.0, 60.0, 90.0, 135.0}) {
        const double t = degrees * std::numbers::pi / 180;
        const Point a{10, 8}, b = a + 6 * Point{std::cos(t), std::sin(t)};
        Model m = raft(box(0, 0, 20, 16), 0.5, 20000);
        Rib r;
        r.id = "R1", r.path = {a, b}, r.width = 0.6, r.depth = 1;
        m.ribs = {r};
        load(m, {SlabLoad{10}, {}});
        const Sheet sheet(m, only(*solve(m)).combination.id);
        const Drawing d = sheet.draw();
        Drawing none;
        const Labels ruler(none, sheet.view, sheet.paper);
        int names = 0;
        for (const Text& text : texts(d, Layer::names)) {
            if (!text.text.starts_with("R1 ")) continue;
            ++names;
            for (int k = 0; k <= 200; ++k) {
                const Point on = sheet.view.at(a + (k / 200.0) * (b - a));
                EXPECT_FALSE(ruler.box_of(text).overlaps(Box{on, on}.grown(0.25 * sheet.view.scale))) << degrees;
            }
            EXPECT_LT(distance(ruler.box_of(text).middle(), sheet.view.at(0.5 * (a + b))), 90) << degrees;
        }
        EXPECT_EQ(names, 1) << degrees;
    }
}

TEST(Plan, TheMeshIsDrawnWithItsWorstCellMarked) {
    Sheet sheet(quay(), "S1");
    sheet.scene.mesh = true;
    const Drawing d = sheet.draw();
    size_t sides = 0;
    for (const Mark& k : d.marks)
        if (auto* p = std::get_if<Path>(&k.what); p && k.layer == Layer::map && !p->closed) sides = p->rings->size();
    const Mesh& mesh = sheet.answer->mesh;
    size_t of_cells = 0, rim = 0;
    for (const Element& e : mesh.elements) of_cells += size_t(corners(e));
    for (const auto& r : mesh.rims) rim += r.size();
    EXPECT_GE(sides, (of_cells + rim) / 2);  // each inner side once
    EXPECT_LE(sides, (of_cells + rim) / 2 + rim);
    const MeshQuality& q = sheet.answer->quality;
    double least = 1;
    for (int e = 0; e < int(mesh.elements.size()); ++e) least = std::min(least, shape_of(mesh, e));
    EXPECT_DOUBLE_EQ(q.worst_shape, least);
    bool said = false;
    for (const Text& t : texts(d)) said |= t.text.rfind("worst cell 0.", 0) == 0;
    EXPECT_TRUE(said);
}

TEST(Plan, LoadsOnWallsAndRibsAreDrawnWithTheirValue) {
    Model m = *load_model(SOURCE_DIR "/examples/sandpiper-row.mossbed").model;
    m.loads.cases[0].items.push_back({RibLoad{"R2", 7}, {}});
    Sheet sheet(m, "S1");
    sheet.scene.load_case = "G";
    const Drawing d = sheet.draw();
    auto says = [&](const std::string& text) {
        const std::vector<Text> all = texts(d, Layer::loads);
        return std::any_of(all.begin(), all.end(), [&](const Text& t) { return t.text == text; });
    };
    EXPECT_TRUE(says("38 kN/m"));  // walls along x
    EXPECT_TRUE(says("29 kN/m"));
    EXPECT_TRUE(says("7 kN/m"));  // the rib
    EXPECT_EQ(written_over(d, sheet.view, sheet.paper), 0);
}

TEST(Plan, TheThingInHandShowsItsCornersAndLengths) {
    Model m = quay();
    m.walls.push_back({"W9", {{2, 3}, {14, 3}, {14, 9}}, 0.25, 3, false, 1, {}});
    Sheet sheet(m, "S1");
    sheet.scene.chosen = {{ThingKind::wall, "W9"}}, sheet.scene.handles = true;
    const Drawing d = sheet.draw();
    std::set<int> corners;
    for (const Mark& mark : d.marks)
        if (mark.layer == Layer::handles && mark.thing && mark.thing->kind == ThingKind::wall)
            corners.insert(mark.thing->part);
    EXPECT_EQ(corners, (std::set<int>{0, 1, 2}));
    std::set<std::string> notes;
    for (const Text& t : texts(d, Layer::notes)) notes.insert(t.text);
    EXPECT_TRUE(notes.count("12.00 m") && notes.count("6.00 m"));
    // What is seen can be taken hold of: the middle corner.
    const auto under = things_at(d, sheet.view, sheet.view.at({14, 3}));
    EXPECT_EQ(under.front(), (Thing{ThingKind::wall, "W9", 1}));
}

TEST(Plan, WhatStandsIsSeenBeforeThereIsASlab) {
    Model m;
    m.slab.outline = Polygon{};
    m.columns = {column("C1", 2, 2), column("C2", 8, 2)};
    m.setting_out = {{"x1", {{2, -1}, {2, 5}}, {}}};
    PlanScene scene;
    scene.model = &m;
    View view;
    Box paper, room;
    paper.add({0, 0}), paper.add({900, 400});
    room.add({60, 40}), room.add({840, 360});
    Box b;
    b.add({0, -1}), b.add({10, 5});
    view.show(b, room);
    const Drawing d = plan_drawing(scene, view, paper);
    EXPECT_EQ(count(d, Layer::columns), 2);
    EXPECT_GT(count(d, Layer::setting_out), 0);
    EXPECT_EQ(things_at(d, view, view.at({8, 2})).front(), (Thing{ThingKind::column, "C2"}));
    m.columns.clear(), m.setting_out.clear();
    EXPECT_EQ(count(plan_drawing(scene, view, paper), Layer::notes), 1);  // only then the sheet says how to begin
}

TEST(Plan, PatchesNameTheLevelsOfTheirSteps) {
    Model m = quay();
    m.slab.top_level = -0.4, m.slab.thickness = 0.75;
    m.slab.patches = {{"T1", box(3, 3, 9, 9), 1.0, Flush::top, "", {}},
                      {"T2", box(12, 3, 18, 9), 1.0, Flush::middle, "", {}}};
    Sheet sheet(m, "S1");
    std::set<std::string> names;
    for (const Text& t : texts(sheet.draw(), Layer::names)) names.insert(t.text);
    EXPECT_TRUE(names.count("T1 1.00 m, underside −1.40"));
    EXPECT_TRUE(names.count("T2 1.00 m, top −0.28, underside −1.28") ||
                names.count("T2 1.00 m, top −0.27, underside −1.27"));
}

}  // namespace
}  // namespace mossbed
