// What is drawn: numbers as engineers write them, maps whose colours are those of their key, pictures that show what is
// there.
#include <gtest/gtest.h>

#include <QImage>
#include <QPainter>
#include <QPainterPath>

#include "core/answer/solve.h"
#include "core/fields/depth_chart.h"
#include "core/file/model_file.h"
#include "draw/cut_painter.h"
#include "draw/plan_painter.h"

namespace mossbed {
namespace {

Model tilted() {  // a rigid slab under an eccentric load: pressure runs linearly from 20 to 80 kPa along x
    Model m;
    m.concretes[0].E = 1e8;
    m.slab.outline = Polygon{{0, 0}, {6, 0}, {6, 4}, {0, 4}};
    m.slab.self_weight = false;
    m.ground.modulus = 10000;
    m.ground.allowable_pressure = 70;
    LoadCase g;
    g.id = "G";
    g.items.push_back({PointLoad{{3.6, 2}, 1200, 0, 0}, {}});
    m.loads.cases = {g};
    Combination s;
    s.id = "S", s.factors = {{"G", 1.0}};
    m.loads.combinations = std::vector<Combination>{s};
    return m;
}

struct Picture {
    std::shared_ptr<const Answer> answer;
    FieldMap map, settlement;
    Camera camera;
    QImage image{800, 560, QImage::Format_ARGB32};
    PlanScene scene;

    explicit Picture(const Model& m, Quantity q = Quantity::pressure) : answer(solve(m)) {
        const CombinationAnswer& c = answer->combinations[0];
        map = make_map(*answer, c, q), settlement = make_map(*answer, c, Quantity::settlement);
        camera.show(box_of(outer_rim(m.slab.outline, 0.5)), QRectF(60, 50, 680, 460));
        scene.model = answer->model.get(), scene.answer = answer.get(), scene.combination = &c, scene.quantity = q,
        scene.map = &map;
        scene.settlement = &settlement, scene.bands = natural_bands(map, q), scene.show_cut = false;
        paint();
    }
    void paint() {
        QPainter p(&image);
        draw_plan(p, scene, camera, image.rect());
    }
    QColor at(double x, double y) const { return image.pixelColor(camera.at({x, y}).toPoint()); }
};

TEST(Numbers, AreWrittenAsEngineersWriteThem) {
    EXPECT_EQ(look::quantity(142.3, "kPa"), "142");
    EXPECT_EQ(look::quantity(7.35, "kPa"), "7.3");
    EXPECT_EQ(look::quantity(18.42, "mm"), "18.4");
    EXPECT_EQ(look::quantity(0.914, ""), "0.91");
    EXPECT_EQ(look::quantity(0.0012, ""), "1/833");
    EXPECT_EQ(look::number(-3.2, 1), QString(QChar(0x2212)) + "3.2");
    EXPECT_EQ(look::number(-0.01, 1), "0.0");
    EXPECT_EQ(look::number(29309, 0), QString("29") + QChar(0x2009) + "309");
    EXPECT_EQ(look::number(std::nan(""), 1), "–");
}

TEST(Camera, GoesThereAndBack) {
    Camera c;
    c.show(
        [] {
            Box b;
            b.add({-3, 2}), b.add({9, 7});
            return b;
        }(),
        QRectF(10, 20, 400, 300));
    const Point p = c.back(c.at({1.25, 3.5}));
    EXPECT_NEAR(p.x, 1.25, 1e-12);
    EXPECT_NEAR(p.y, 3.5, 1e-12);
    EXPECT_LT(c.at({0, 7}).y(), c.at({0, 2}).y());  // y up
}

TEST(Bands, HaveRoundStepsThatHoldTheValues) {
    FieldMap m;
    m.corner.push_back({3, 47, 20, 31});
    m.least = 3, m.most = 47;
    const Bands b = natural_bands(m, Quantity::pressure);
    EXPECT_EQ(b.low, 0);
    EXPECT_GE(b.high, 47);
    EXPECT_EQ(b.step(), 5);
    const Bands moment = natural_bands(m, Quantity::mx);
    EXPECT_EQ(moment.low, -moment.high);  // even about nothing: the middle colour is zero
    EXPECT_EQ(moment.n % 2, 0);
}

TEST(Map, ItsColoursAreThoseOfItsKey) {
    const Picture p(tilted());
    for (double x : {0.8, 2.1, 3.3, 4.4, 5.6}) {
        const double pressure = 50 + 30 * (x - 3) / 3;
        const int band = int(std::floor((pressure - p.scene.bands.low) / p.scene.bands.step()));
        EXPECT_EQ(p.at(x, 3.1).name(),
                  look::colour_at(look::Scale::pressure, double(band) / (p.scene.bands.n - 1)).name())
            << x;
    }
}

TEST(Map, WhatIsOverTheAllowableIsHatched) {
    Picture p(tilted());
    std::set<QRgb> over, under;
    for (double y = 0.5; y < 3.5; y += 0.02) over.insert(p.at(5.7, y).rgb()), under.insert(p.at(4.0, y).rgb());
    bool rust = false;
    for (QRgb c : over) rust |= qRed(c) > 140 && qBlue(c) < 110;
    EXPECT_TRUE(rust);
    for (QRgb c : under) EXPECT_FALSE(qRed(c) > 140 && qBlue(c) < 80);
    p.scene.flag.reset();
}

TEST(Map, TheLiftedPartIsDottedPaper) {
    Model m = tilted();
    std::get<PointLoad>(m.loads.cases[0].items[0].load).at = {4.8, 2};  // contact 3 · 1.2 of 6 m
    const Picture p(m);
    int paper = 0, all = 0;
    for (double x = 0.3; x < 1.8; x += 0.05)
        for (double y = 0.5; y < 3.5; y += 0.05, ++all) paper += p.at(x, y).lightness() > 225;
    EXPECT_GT(paper, 0.8 * all);
    EXPECT_LT(paper, all);  // and its dots
}

TEST(Map, ARegionHasTheAreaThatTheFieldSays) {
    const Picture p(tilted());
    const QPainterPath over = region(p.camera, p.answer->mesh, p.map, 65, true).simplified();  // x > 4.5
    double area = 0;
    for (const QPolygonF& q : over.toFillPolygons()) {
        double twice = 0;
        for (int i = 0; i < q.size(); ++i)
            twice += q[i].x() * q[(i + 1) % q.size()].y() - q[i].y() * q[(i + 1) % q.size()].x();
        area += std::abs(twice) / 2;
    }
    EXPECT_NEAR(area / (p.camera.scale * p.camera.scale), 1.5 * 4, 0.1);
}

TEST(Key, StandsClearOfTheSlabWhereItCan) {
    Model m = tilted();
    m.slab.outline = Polygon{{0, 0}, {12, 0}, {12, 3}, {5, 3}, {5, 8}, {0, 8}};
    Picture p(m);
    QPainter painter(&p.image);
    const QRectF bar = draw_plan_key(painter, p.scene, p.camera, p.image.rect());
    ASSERT_FALSE(bar.isEmpty());
    for (double f : {0.0, 0.5, 1.0})
        EXPECT_FALSE(on_slab(m, p.camera.back({bar.left() + f * bar.width(), bar.center().y()})));
}

TEST(Cut, ItsSamplesAreThoseOfTheAnswer) {
    const Picture p(tilted());
    CutScene s;
    s.model = p.answer->model.get(), s.answer = p.answer.get(), s.combination = p.scene.combination;
    s.line = {Point{-1, 2}, Point{7, 2}};
    s.moment = true;
    QImage image(900, 240, QImage::Format_ARGB32);
    QPainter painter(&image);
    const CutSamples c = draw_cut(painter, s, QRectF(0, 0, 900, 240));
    ASSERT_GT(c.t.size(), 50u);
    for (size_t i = 0; i < c.t.size(); ++i) {
        const double x = c.t[i] - 1;
        EXPECT_EQ(bool(c.on[i]), x > -1e-9 && x < 6 + 1e-9) << x;
        if (c.on[i]) EXPECT_NEAR(c.pressure[i], 50 + 10 * (x - 3), 0.3);
    }
    EXPECT_GT(c.settlement_factor, 1);
    double first = 1e9, last = 0;
    for (size_t i = 0; i < c.t.size(); ++i)
        if (c.on[i]) first = std::min(first, c.t[i]), last = std::max(last, c.t[i]);
    EXPECT_NEAR(first, 1, 0.15);
    EXPECT_NEAR(last, 7, 0.15);
}

TEST(Cut, AnEmptyDeskSaysWhatWillStandThere) {
    Model none;
    none.slab.outline = Polygon{};
    CutScene s;
    s.model = &none;
    QImage image(400, 120, QImage::Format_ARGB32);
    QPainter painter(&image);
    draw_cut(painter, s, QRectF(0, 0, 400, 120));
    std::set<QRgb> colours;
    for (int x = 0; x < 400; ++x)
        for (int y = 0; y < 120; ++y) colours.insert(image.pixel(x, y));
    EXPECT_GT(colours.size(), 3u);
}

TEST(Cut, ALayerThatEndsAtTheMiddleOfTheEarthIsDrawnAsFarAsThePaperGoes) {
    Model m = tilted();  // each hatch line of it drawn took for ever
    Stratum s;
    s.id = "clay";
    m.ground.strata = {s};
    for (double bottom : {-1e9, -2e4}) {
        Borehole b;
        b.id = "B", b.ground_level = 0, b.layers = {{"clay", bottom, {}}};
        m.ground.boreholes = {b};
        Picture pic(m);
        CutScene scene;
        scene.model = &m, scene.answer = pic.answer.get(), scene.combination = pic.scene.combination;
        scene.line = {Point{-1, 2}, Point{7, 2}};
        QImage paper(600, 240, QImage::Format_ARGB32);
        paper.fill(Qt::white);
        QPainter p(&paper);
        draw_cut(p, scene, QRectF(0, 0, 600, 240));
        EXPECT_NE(paper.pixelColor(20, 220), QColor(Qt::white));  // the stratum is there
        if (const auto chart = depth_chart(*pic.answer, "S", {3, 2}))
            draw_depth_chart(p, *chart, m, QRectF(0, 0, 300, 200));
    }
}

TEST(Map, BesideABorderOfGroundPatchesEachCellHasItsOwnPressure) {
    Model m = tilted();
    m.ground.model = GroundModel::patches;
    GroundPatch soft;
    soft.id = "soft", soft.outline = {{0, 0}, {3, 0}, {3, 4}, {0, 4}}, soft.modulus = 5000;
    m.ground.patches = {soft};
    const Picture pic(m);
    for (size_t e = 0; e < pic.map.corner.size(); ++e)
        for (int k = 0; k < corners(pic.answer->mesh.elements[e]); ++k) {
            const int node = pic.answer->mesh.elements[e][size_t(k)];
            const double modulus = pic.answer->mesh.ground_patch[e] == 0 ? 5000 : 10000;
            EXPECT_NEAR(pic.map.corner[e][size_t(k)],
                        std::max(0.0, modulus * pic.answer->combinations[0].settlement(node)), 1e-6);
        }
}

TEST(SettingOut, LinesRunThroughTwoColumnsOrMore) {
    Model m = tilted();
    for (auto [id, x, y] : {std::tuple{"A", 1.0, 1.0}, {"B", 5.0, 1.0}, {"C", 1.0, 3.0}, {"D", 4.0, 3.3}}) {
        Column c;
        c.id = id, c.at = {x, y};
        m.columns.push_back(c);
    }
    EXPECT_EQ(column_lines(m, true), std::vector<double>{1.0});
    EXPECT_EQ(column_lines(m, false), std::vector<double>{1.0});
}

}  // namespace
}  // namespace mossbed
