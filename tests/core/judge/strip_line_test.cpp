// What a strip carries along its length, and the chart of it, against the sections of the record and statics.
#include "core/judge/strip_line.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include "drawing/strip_chart.h"
#include "tests/core/judge/pad.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

std::shared_ptr<const Answer> three_columns() {
    Model m = designed_raft(box(0, 0, 18, 8), 0.5);
    for (double x : {3.0, 9.0, 15.0})
        for (double y : {2.0, 6.0}) m.columns.push_back(column(fmt::format("C{}", m.columns.size() + 1), x, y));
    double N = 600;
    for (const Column& c : m.columns) load(m, {ColumnLoad{c.id, N += 70, 0, 0, 0, 0}, {}});
    m.loads.combinations->push_back((*m.loads.combinations)[0]);
    (*m.loads.combinations)[1].id = "half", (*m.loads.combinations)[1].factors = {{"G", 0.5}};
    m.steel.extra = {{"E", box(6, 0, 12, 8), Face::bottom, Direction::x, 16, 200, {}}};
    return solve(m);
}

TEST(StripLine, HasTheSectionsOfTheRecordAndTheColumnsOnIt) {
    const auto a = three_columns();
    for (size_t i = 0; i < a->steel.strips.size(); ++i) {
        const StripLine l = strip_line(*a, *a, i);
        ASSERT_EQ(l.s.size(), l.M_most.size());
        ASSERT_EQ(l.s.size(), l.needs_bottom.size());
        ASSERT_EQ(l.s.size(), l.has_top.size());
        EXPECT_TRUE(std::is_sorted(l.s.begin(), l.s.end()));
        for (const SectionRow& r : a->steel.strips[i].sections) {
            size_t k = 0;
            while (l.s[k] != r.s) ++k;
            EXPECT_LE(r.M, l.M_most[k] + 1e-9);
            EXPECT_GE(r.M, l.M_least[k] - 1e-9);
            EXPECT_LE(*r.bottom_required / r.width, l.needs_bottom[k] + 1e-9);
            EXPECT_NEAR(r.bottom_provided / r.width, l.has_bottom[k], 0.2 * l.has_bottom[k] + 1);
        }
    }
    const StripLine x = strip_line(*a, *a, 0);
    ASSERT_EQ(x.supports.size(), 3u);
    EXPECT_EQ(x.supports[0].name, "C1");
    const double half = a->model->columns[0].size[0] / 2;
    EXPECT_NEAR(x.supports[1].from, 9 - half, 1e-9);
    EXPECT_NEAR(x.supports[1].to, 9 + half, 1e-9);
    ASSERT_TRUE(x.tightest);
    for (const Row& r : a->checks)  // the row of the Ledger says the same, where the minimum does not govern
        if (r.id == "bending" && r.item == x.strip + (x.tightest->face == Face::top ? " top" : " bottom"))
            EXPECT_GE(x.tightest->use, *r.utilisation - 1e-6);
}
TEST(StripLine, OfOneCombinationIsThatAloneAndOfNoneLeavesForcesOut) {
    const auto a = three_columns();
    const StripLine all = strip_line(*a, *a, 0), half = strip_line(*a, *a, 0, "half"),
                    none = strip_line(*a, *a, 0, "X");
    const std::string other = a->combinations[0].combination.id;
    const StripLine one = strip_line(*a, *a, 0, other);
    for (size_t k = 0; k < one.s.size(); ++k) {
        EXPECT_EQ(one.M_most[k], one.M_least[k]);
        EXPECT_NEAR(half.M_most[k], 0.5 * one.M_most[k], 1e-6 * std::abs(one.M_most[k]) + 1e-6);
        EXPECT_EQ(all.M_most[k], std::max(one.M_most[k], half.M_most[k]));
        EXPECT_EQ(all.V_least[k], std::min(one.V_least[k], half.V_least[k]));
    }
    EXPECT_TRUE(none.M_most.empty());
    EXPECT_EQ(none.needs_bottom, all.needs_bottom);
    EXPECT_TRUE(strip_line(*a, *a, 99).s.empty());
    EXPECT_TRUE(strip_chart(strip_line(*a, *a, 99), StripPart::steel, {{0, 0}, {600, 180}}).drawing.marks.empty());
}

std::vector<std::string> texts(const Drawing& d) {
    std::vector<std::string> out;
    for (const Mark& m : d.marks)
        if (const auto* t = std::get_if<Text>(&m.what)) out.push_back(t->text);
    return out;
}
TEST(StripChart, ShowsTheTightestPlaceTheColumnsAndUnitsAndStaysOnThePaper) {
    const auto a = three_columns();
    const StripLine l = strip_line(*a, *a, 0);
    const Box paper{{0, 0}, {900, 190}};
    for (StripPart part : {StripPart::steel, StripPart::moment, StripPart::shear}) {
        const StripChart c = strip_chart(l, part, paper);
        EXPECT_LT(c.left, c.right);
        const auto all = texts(c.drawing);
        EXPECT_THAT(all, ::testing::Contains("C3"));
        EXPECT_THAT(all, ::testing::Contains(part == StripPart::steel    ? "mm²/m"
                                             : part == StripPart::moment ? "kN·m"
                                                                         : "kN"));
        for (const Mark& m : c.drawing.marks)
            if (const auto* p = std::get_if<Path>(&m.what))
                for (const Polygon& ring : *p->rings)
                    for (Point q : ring) {
                        EXPECT_GE(q.x, 0);
                        EXPECT_LE(q.x, 900);
                        EXPECT_LE(-q.y, 190);
                        EXPECT_GE(-q.y, 0);
                    }
    }
    bool said = false;
    for (const std::string& t : texts(strip_chart(l, StripPart::steel, paper).drawing))
        said |= t.find(l.tightest->combination) != std::string::npos && t.find("mm²/m") != std::string::npos;
    EXPECT_TRUE(said);
    EXPECT_THAT(strip_reading(l, StripPart::steel, 9), HasSubstr("bottom"));
    EXPECT_THAT(strip_reading(l, StripPart::moment, 9), HasSubstr(" to "));
    EXPECT_THAT(strip_reading(strip_line(*a, *a, 0, "half"), StripPart::shear, 4), HasSubstr("kN over"));
}
TEST(StripChart, WhereNoSteelFitsItSaysSo) {
    StripLine l;
    l.s = {0, 1, 2, 3}, l.width = {1, 1, 1, 1};
    l.needs_bottom = {500, std::nan(""), std::nan(""), 500}, l.needs_top = {0, 0, 0, 0};
    l.has_bottom = {800, 800, 800, 800}, l.has_top = {400, 400, 400, 400};
    l.tightest = StripLine::Tightest{1, 1e9, std::nan(""), 800, Face::bottom, "U"};
    EXPECT_THAT(texts(strip_chart(l, StripPart::steel, {{0, 0}, {600, 180}}).drawing),
                ::testing::Contains("no amount fits"));
    EXPECT_THAT(strip_reading(l, StripPart::steel, 1.1), HasSubstr("no amount fits"));
}

}  // namespace
}  // namespace mossbed::testing
