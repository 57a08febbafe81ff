// Drawings on paper: colours that are those of the key, patterns besides colours, pictures as they were kept.
#include "draw/render.h"

#include <QBuffer>
#include <QPdfWriter>

#include "core/fields/depth_chart.h"
#include "drawing/cut.h"
#include "drawing/ground_parts.h"
#include "drawing/plan.h"
#include "tests/core/helpers.h"
#include "tests/draw/picture.h"

namespace mossbed {
namespace {
using namespace testing;

Model tilted() {  // a rigid slab under an eccentric load: pressure runs linearly from 20 to 80 kPa along x
    Model m = raft(box(0, 0, 6, 4), 0.6, 10000, 1e8);
    m.ground.allowable_pressure = 70;
    load(m, {PointLoad{{3.6, 2}, 1200, 0, 0}, {}});
    return m;
}

struct Picture {
    std::shared_ptr<const Answer> answer;
    FieldMap map;
    MapShapes shapes;
    Camera camera;
    PlanScene scene;
    QImage image{800, 560, QImage::Format_ARGB32};

    explicit Picture(const Model& m, Quantity q = Quantity::pressure) : answer(solve(m)) {
        const CombinationAnswer& c = answer->combinations[0];
        map = make_map(*answer, c, q);
        shapes = shapes_of(answer->mesh, map, natural_bands(map, q), q);
        camera.show(box_of(outer_rim(m.slab.outline, 0.5)), QRectF(60, 50, 680, 460));
        scene.model = answer->model.get(), scene.answer = answer.get(), scene.combination = &c, scene.quantity = q;
        scene.shapes = &shapes, scene.show_cut = false;
        if (map.most > m.ground.allowable_pressure)
            scene.over = region(answer->mesh, map, m.ground.allowable_pressure, true);
        if (const FieldMap l = lifted_map(*answer, c); l.least < 0) scene.lifted = region(answer->mesh, l, 0, false);
        paint();
    }
    void paint() {
        image.fill(look::sheet);
        QPainter p(&image);
        const Box paper = from_qt(QRectF(image.rect()));
        const Box foot = from_qt(QRectF(0, image.height() - plan_key_height, image.width(), plan_key_height));
        paint_drawing(p, plan_drawing(scene, camera, paper), camera, image.rect());
        paint_drawing(p, plan_key(scene, foot).drawing, bare_paper(), image.rect());
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
    EXPECT_EQ(look::number(9309, 0), "9309");
    EXPECT_EQ(look::number(29309, 0), QString("29") + QChar(0x2009) + "309");
    EXPECT_EQ(look::number(-1234567.25, 2),
              QString(QChar(0x2212)) + "1" + QChar(0x2009) + "234" + QChar(0x2009) + "567.25");
    EXPECT_EQ(look::number(std::nan(""), 1), "–");
}

TEST(Look, EveryRoleHasAColourAndInkReadsOnPaper) {
    for (int r = int(Role::sheet); r <= int(Role::scale); ++r) EXPECT_TRUE(look::colour(Tone(Role(r))).isValid()) << r;
    EXPECT_EQ(look::colour(Tone(Role::moss, 45)).alpha(), 45);
    auto luminance = [](const QColor& c) {  // WCAG 2.1
        auto f = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * f(c.redF()) + 0.7152 * f(c.greenF()) + 0.0722 * f(c.blueF());
    };
    for (Role ink :
         {Role::ink, Role::faint, Role::moss, Role::rust, Role::water, Role::pressure_ink, Role::moment_ink}) {
        const double a = luminance(look::sheet), b = luminance(look::colour(ink));
        EXPECT_GT((a + 0.05) / (b + 0.05), 4.5) << int(ink);
    }
}

TEST(Look, TheStyleSheetKnowsAllItsColours) {
    EXPECT_FALSE(look::style_sheet().contains('$'));
    EXPECT_TRUE(look::style_sheet().contains(look::moss.name()));
}

TEST(Map, ItsColoursAreThoseOfItsKey) {
    Model m = tilted();
    m.ground.allowable_pressure = 100;  // nothing hatched
    const Picture p(m);
    for (double x : {0.8, 2.1, 3.3, 4.4, 5.6}) {
        const double pressure = 50 + 30 * (x - 3) / 3;
        const Bands& b = p.shapes.bands;
        const int band = int(std::floor((pressure - b.low) / b.step()));
        EXPECT_EQ(p.at(x, 3.1).name(), look::colour_at(Scale::pressure, double(band) / (b.n - 1)).name()) << x;
    }
}

TEST(Map, WhatIsOverTheAllowableIsHatched) {
    const Picture p(tilted());
    int rust = 0, elsewhere = 0;
    for (int k = 0; k < 150; ++k) {
        const double y = 0.5 + 0.02 * k;
        const QColor over = p.at(5.7, y), under = p.at(4.0, y);
        rust += over.red() > 140 && over.blue()<110, elsewhere += under.red()> 140 && under.blue() < 110;
    }
    EXPECT_GT(rust, 10);  // of 150: a line of 1.2 every 6 paper units
    EXPECT_LT(rust, 75);
    EXPECT_EQ(elsewhere, 0);
}

TEST(Map, TheLiftedPartIsDottedPaper) {
    Model m = tilted();
    std::get<PointLoad>(m.loads.cases[0].items[0].load).at = {4.8, 2};  // contact 3 · 1.2 of 6 m
    const Picture p(m);
    int paper = 0, all = 0;
    for (int i = 0; i < 30; ++i)
        for (int j = 0; j < 60; ++j, ++all) paper += p.at(0.3 + 0.05 * i, 0.5 + 0.05 * j).lightness() > 225;
    EXPECT_GT(paper, 0.8 * all);
    EXPECT_LT(paper, all);  // and its dots
}

TEST(Map, BesideABorderOfGroundPatchesEachCellHasItsOwnPressure) {
    Model m = tilted();
    m.ground.model = GroundModel::patches;
    GroundPatch soft;
    soft.id = "soft", soft.outline = box(0, 0, 3, 4), soft.modulus = 5000;
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

TEST(Paper, ThreeTimesAsFineIsTheSameDrawing) {
    const Picture p(tilted());
    QImage fine(2400, 1680, QImage::Format_ARGB32);
    fine.fill(look::sheet);
    QPainter painter(&fine);
    painter.scale(3, 3);
    const Box paper = from_qt(QRectF(0, 0, 800, 560));
    paint_drawing(painter, plan_drawing(p.scene, p.camera, paper), p.camera, QRectF(0, 0, 800, 560));
    for (double x : {1.23, 2.41, 3.77})
        for (double y : {0.61, 1.52, 3.43}) {
            const QPointF at = p.camera.at({x, y});
            EXPECT_EQ(fine.pixelColor((3 * at).toPoint()).name(), p.image.pixelColor(at.toPoint()).name())
                << x << " " << y;
        }
}

TEST(Paper, ADrawingGoesOntoAPageAsLines) {
    const Picture p(tilted());
    QBuffer file;
    file.open(QIODevice::WriteOnly);
    {
        QPdfWriter pdf(&file);
        pdf.setResolution(96);  // paper units
        QPainter painter(&pdf);
        paint_drawing(painter, plan_drawing(p.scene, p.camera, from_qt(QRectF(0, 0, 700, 900))), p.camera,
                      QRectF(0, 0, 700, 900));
    }
    EXPECT_TRUE(file.data().startsWith("%PDF"));
    EXPECT_FALSE(file.data().contains("/Subtype /Image"));  // not as pixels
}

// A slab with a thick patch, an opening, a wall and columns, half of it lifted, one column chosen.
Model cove() {
    Model m = raft({{0, 0}, {12, 0}, {12, 5}, {7, 5}, {7, 9}, {0, 9}}, 0.5, 15000);
    m.ground.allowable_pressure = 60;
    SlabPatch p;
    p.id = "pad", p.outline = box(1, 1, 4, 4), p.thickness = 0.8;
    m.slab.patches = {p};
    Opening o;
    o.id = "pit", o.outline = box(8, 2, 9.5, 3.5);
    m.slab.openings = {o};
    Wall w;
    w.id = "W1", w.path = {{1, 6}, {5, 6}, {5, 8}}, w.thickness = 0.3;
    m.walls = {w};
    m.columns = {column("C1", 2.5, 2.5), column("C2", 6, 2.5), column("C3", 11, 2.5, 0.4), column("C4", 6, 8, 0.4)};
    m.columns[1].angle = 30;
    for (auto [id, N] : {std::pair{"C1", 1500.0}, {"C2", 700.0}, {"C3", -150.0}, {"C4", 400.0}})
        load(m, {ColumnLoad{id, N, 0, 0, 0, 0}, {}});
    return m;
}

TEST(Pictures, ThePlanIsAsItWas) {
    Picture p(cove());
    p.scene.handles = p.scene.show_cut = true;
    p.scene.cut = {Point{-0.5, 2.5}, Point{12.5, 2.5}};
    p.scene.chosen = {{ThingKind::column, "C2"}, {ThingKind::wall, "W1"}};
    p.scene.flag = p.map.most_at, p.scene.flag_text = "largest";
    p.paint();
    expect_picture(p.image, "plan");
}

TEST(Pictures, ThePlanOfACaseIsAsItWas) {
    Picture p(cove(), Quantity::mx);
    p.scene.load_case = "G";
    p.paint();
    expect_picture(p.image, "loads");
}

Model on_strata() {
    Model m = cove();
    m.slab.top_level = -0.5;
    m.ground.model = GroundModel::coupled;
    for (const char* id : {"fill", "silt", "gravel"}) {
        Stratum s;
        s.id = id, s.E = 15;
        m.ground.strata.push_back(s);
    }
    for (auto [id, x, silt] : {std::tuple{"BH1", -2.0, -7.0}, {"BH2", 14.0, -3.5}}) {
        Borehole b;
        b.id = id, b.at = {x, 2}, b.ground_level = 0, b.water_level = -0.8;
        b.layers = {{"fill", -1.5, {}}, {"silt", silt, {}}, {"gravel", -14, {}}};
        b.blow_counts = {{-2.5, 6, {}}, {-9, 35, {}}};
        m.ground.boreholes.push_back(b);
    }
    return m;
}

TEST(Pictures, TheCutIsAsItWas) {
    const auto answer = solve(on_strata());
    const std::array<Point, 2> line{Point{-0.5, 2.5}, Point{12.5, 2.5}};
    const AlongLine along = along_line(*answer, answer->combinations[0], line);
    const SoilProfile profile(answer->model->ground);
    CutScene s;
    s.model = answer->model.get(), s.along = &along, s.profile = &profile, s.line = line;
    s.limit = answer->ground->layers->limit().level;
    s.wide = s.moment = true, s.hair = 4;
    QImage image(940, 240, QImage::Format_ARGB32);
    image.fill(look::sheet);
    QPainter p(&image);
    const CutDrawing d = cut_drawing(s, from_qt(QRectF(image.rect())));
    paint_drawing(p, d.drawing, d.frame.view, image.rect());
    p.end();
    expect_picture(image, "cut");
}

TEST(Pictures, TheDepthChartIsAsItWas) {
    const auto answer = solve(on_strata());
    const auto chart = depth_chart(*answer, "S", {2.5, 2.5});
    ASSERT_TRUE(chart);
    QImage image(310, 320, QImage::Format_ARGB32);
    image.fill(look::panel);
    QPainter p(&image);
    paint_drawing(p, depth_chart_drawing(*chart, *answer->model, from_qt(QRectF(image.rect()))), bare_paper(),
                  image.rect());
    p.end();
    expect_picture(image, "depth-chart");
}

TEST(Pictures, AColumnMovedByACellIsSeen) {
    Picture p(cove());
    p.scene.shapes = nullptr, p.scene.quantity = Quantity::none;
    p.paint();
    const QImage before = p.image;
    Model moved = cove();
    moved.columns[0].at.x += 0.5;
    p.scene.model = &moved;
    p.paint();
    EXPECT_GT(difference(before, p.image).share, few_pixels / 8);
    EXPECT_EQ(difference(before, before).share, 0);
    EXPECT_EQ(difference(before, QImage(10, 10, QImage::Format_ARGB32)).share, 1);
}

}  // namespace
}  // namespace mossbed
