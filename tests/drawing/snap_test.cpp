// What a pointer near things means, and what is said of it. At 20 paper units a metre the reach is 0.35 m.
#include "drawing/snap.h"

#include "tests/core/helpers.h"

namespace mossbed {
namespace {
using namespace testing;

Model raft_with_things() {
    Model m = raft(box(0, 0, 12, 8), 0.5, 2e4);
    m.columns = {column("C1", 3, 3), column("C2", 9, 5)};
    m.slab.openings = {{"O1", box(5, 1, 7, 2), {}}};
    m.setting_out = {{"x1", {{4.3, -1}, {4.3, 9}}, {}}, {"y1", {{-1, 6.7}, {13, 6.7}}, {}}};
    return m;
}
Snap at(double x, double y, const SnapTo& to = {}) {
    View view;
    view.scale = 20;
    return snap(raft_with_things(), view, {x, y}, to);
}
void expect(const Snap& s, double x, double y, const std::string& note) {
    EXPECT_NEAR(s.at.x, x, 1e-9);
    EXPECT_NEAR(s.at.y, y, 1e-9);
    EXPECT_EQ(s.note, note);
}

TEST(Snap, GoesToPointsThenCrossingsThenLines) {
    expect(at(3.1, 2.9), 3, 3, "on C1");
    expect(at(0.1, -0.1), 0, 0, "on corner 1");
    expect(at(6.1, 7.9), 6, 8, "on the middle of rim 3");
    expect(at(4.4, 6.6), 4.3, 6.7, "where x1 meets y1");
    expect(at(4.2, 0.2), 4.3, 0, "where rim 1 meets x1");
    expect(at(10.52, 0.1), 10.5, 0, "on rim 1");
}

TEST(Snap, SeesWhatIsInLine) {
    expect(at(3.1, 4.44), 3, 4.4, "in line with C1");
    expect(at(1.52, 5.1), 1.5, 5, "level with C2");
    expect(at(3.1, 5.1), 3, 5, "in line with C1, level with C2");
    expect(at(8.9, 0.1), 9, 0, "on rim 1, in line with C2");
    expect(at(10.63, 4.02), 10.6, 4, "");
}

TEST(Snap, GoesSquareToALineFromTheLastPoint) {
    SnapTo to;
    to.from = Point{10.37, 4.1}, to.drawn = {*to.from};
    expect(at(10.5, 0.2, to), 10.37, 0, "square to rim 1");
}

TEST(Snap, LeavesOutWhatMovesAndIsLetGo) {
    SnapTo moving;
    moving.moving = {{ThingKind::column, "C1"}};
    EXPECT_EQ(at(3.1, 2.94, moving).note, "");
    SnapTo free;
    free.free = true;
    expect(at(3.1, 2.9, free), 3.1, 2.9, "");
    SnapTo corner;
    corner.moving = {{ThingKind::slab_corner, "", 0}};
    expect(at(0.1, -0.1, corner), 0, 0, "in line with corner 4, level with corner 2");  // not itself, nor its own sides
}

TEST(Snap, GoesToRimsOfCircles) {
    Model m = raft_with_things();
    m.slab.outline = Circle{{0, 0}, 10};
    View view;
    view.scale = 20;
    const Snap s = snap(m, view, {6.1, 8.1});
    EXPECT_NEAR(length(s.at), 10, 1e-9);
    EXPECT_EQ(s.note, "on the rim of the slab");
}

}  // namespace
}  // namespace mossbed
