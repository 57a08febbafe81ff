// Figures while they are drawn, and what was typed for them.
#include "core/arrange/figure.h"

#include <gtest/gtest.h>

namespace mossbed {
namespace {

void expect_at(const std::optional<Point>& p, double x, double y) {
    ASSERT_TRUE(p);
    EXPECT_NEAR(p->x, x, 1e-9);
    EXPECT_NEAR(p->y, y, 1e-9);
}

TEST(Typed, WordsSayWhichWay) {
    auto way = [](const char* text) { return parts_of_typed(text)->way; };
    EXPECT_EQ(way("3, 2"), TypedPlace::place);
    EXPECT_EQ(way("by 3, -2"), TypedPlace::by);
    EXPECT_EQ(way("4.5"), TypedPlace::length);
    EXPECT_EQ(way("4.5 at 30"), TypedPlace::polar);
    EXPECT_EQ(way("12 x 8"), TypedPlace::size);
    EXPECT_EQ(parts_of_typed("24 in at 3*10")->numbers, (std::vector<std::string>{"24 in", "3*10"}));
    for (const char* none : {"3,", ",3", "1,2,3", "by 3", ""}) EXPECT_FALSE(parts_of_typed(none)) << none;
}

TEST(Typed, PlacesComeFromTheLastPointOrThePointer) {
    FigureDraft d(FigureKind::path);
    std::string why;
    EXPECT_FALSE(d.point_of({TypedPlace::length, 2, 0}, {5, 5}, &why));  // from where?
    EXPECT_FALSE(why.empty());
    expect_at(d.point_of({TypedPlace::place, 1, 2}, {5, 5}, &why), 1, 2);
    EXPECT_EQ(d.add({1, 2}), "");
    expect_at(d.point_of({TypedPlace::by, 3, -1}, {5, 5}, &why), 4, 1);
    expect_at(d.point_of({TypedPlace::length, 2, 0}, {1, 9}, &why), 1, 4);  // towards the pointer
    expect_at(d.point_of({TypedPlace::polar, 2, 30}, {9, 9}, &why), 1 + std::sqrt(3.0), 3);
    EXPECT_FALSE(d.point_of({TypedPlace::length, 2, 0}, {1, 2}, &why));  // the pointer is on the point
    EXPECT_FALSE(d.point_of({TypedPlace::size, 2, 3}, {5, 5}, &why));
}

TEST(FigureDraft, ARectangleTakesTwoSizesTowardsThePointerAndRefusesOne) {
    FigureDraft d(FigureKind::rectangle);
    EXPECT_EQ(d.add({2, 2}), "");
    std::string why;
    EXPECT_FALSE(d.point_of({TypedPlace::length, 5, 0}, {9, 9}, &why));
    EXPECT_NE(why.find("two sizes"), std::string::npos);
    const auto p = d.point_of({TypedPlace::size, 12, 8}, {0, 9}, &why);  // the pointer is to the left and above
    expect_at(p, -10, 10);
    EXPECT_NE(d.add({9, 2}), "");  // no height
    EXPECT_EQ(d.add(*p), "");
    EXPECT_TRUE(d.is_complete());
    EXPECT_NEAR(signed_area(d.figure().points), 96, 1e-9);
    EXPECT_TRUE(d.figure().is_closed);
}

TEST(FigureDraft, CirclesAndRingsHaveRadiiFromTheMiddle) {
    FigureDraft c(FigureKind::circle);
    EXPECT_EQ(c.add({3, 3}), "");
    std::string why;
    expect_at(c.point_of({TypedPlace::length, 5, 0}, {3, 3}, &why), 8, 3);  // any side will do
    EXPECT_NE(c.add({3, 3.001}), "");
    EXPECT_EQ(c.add({3, 7}), "");
    EXPECT_EQ(*c.figure().circle, (Circle{{3, 3}, 4}));
    EXPECT_NEAR(signed_area(c.figure().points), M_PI * 16, 1e-6);  // of the circle's area
    FigureDraft r(FigureKind::ring);
    r.add({0, 0}), r.add({0, 4});
    EXPECT_FALSE(r.is_complete());
    EXPECT_NE(r.add({4, 0}), "");  // as far as the outer rim
    EXPECT_EQ(r.add({6, 0}), "");  // farther: then it is the outer one
    EXPECT_EQ(*r.figure().ring, (Ring{{0, 0}, 4, 6}));
}

TEST(FigureDraft, AnOutlineThatCrossesItselfIsTold) {
    FigureDraft d(FigureKind::corners);
    for (Point p : {Point{0, 0}, {4, 0}, {4, 4}}) EXPECT_EQ(d.add(p), "");
    EXPECT_NE(d.add({2, -1}), "");  // its side would cross the first
    EXPECT_EQ(d.points().size(), 3u);
    EXPECT_NE(d.add({4, 4}), "");  // no length
    for (Point p : {Point{-2, 4}, {-2, 2}, {2, 2}}) EXPECT_EQ(d.add(p), "");
    EXPECT_EQ(d.fault(), "");
    EXPECT_EQ(d.add({2, 3}), "");
    EXPECT_NE(d.fault(), "");  // the last side back to the first corner crosses another
    d.take_back();
    EXPECT_GT(signed_area(d.figure().points), 0);
    FigureDraft two(FigureKind::corners);
    two.add({0, 0}), two.add({1, 0});
    EXPECT_NE(two.fault(), "");
}

TEST(FigureDraft, ShowsWhatItWouldBeWithThePointer) {
    FigureDraft d(FigureKind::path);
    EXPECT_TRUE(d.with({1, 1}).points.size() == 1);
    d.add({0, 0});
    EXPECT_EQ(d.with({2, 0}).points.size(), 2u);
    EXPECT_EQ(d.points().size(), 1u);
    EXPECT_EQ(d.with({0, 0}).points.size(), 1u);  // the pointer still rests on the point
}

}  // namespace
}  // namespace mossbed
