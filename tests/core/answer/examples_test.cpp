// The examples show what they are told to show.
#include <gmock/gmock.h>

#include "tests/core/helpers.h"

namespace mossbed::testing {
namespace {

using ::testing::HasSubstr;

std::shared_ptr<const Answer> example(const std::string& name) {
    Loaded l = load_model(std::string(SOURCE_DIR "/examples/") + name + ".mossbed");
    EXPECT_TRUE(l.model) << name;
    return l.model ? solve(*l.model) : nullptr;
}
double worst(const Answer& a, const std::string& id) {
    double use = 0;
    for (const Row& r : a.checks)
        if (r.id == id && r.utilisation) use = std::max(use, *r.utilisation);
    return use;
}

TEST(Examples, TernQuayStandsWithOnePlaceNearItsLimitsAndACornerThatLifts) {
    const auto a = example("tern-quay");
    EXPECT_FALSE(a->model->loads.combinations->empty());  // listed by its rules
    for (const Row& r : a->checks) EXPECT_NE(r.status, Status::over) << r.title;
    EXPECT_GT(worst(*a, "bearing"), 0.85);
    EXPECT_GT(worst(*a, "punching"), 0.85);
    int lifting = 0;
    for (const CombinationAnswer& c : as_listed(a->combinations)) lifting += c.contact_ratio < 0.97;
    EXPECT_GE(lifting, 2);
    EXPECT_LT(lifting, int(a->combinations.size()) / 2);
    // No bay of the roof is sucked by more than a roof is: all wind over 710 m² and the couples of two braced bays.
    for (const CaseTotal& c : a->cases)
        if (c.id == "WX" || c.id == "WY") EXPECT_GT(c.on_slab.Fz, -2.0 * 710);
    bool water = false;
    for (const Row& r : a->checks) water |= r.id == "model" && r.item == "water";
    EXPECT_FALSE(water);  // every purpose has it
}

TEST(Examples, LapwingCisternFloatsInOneStabilityCombinationOnly) {
    const auto a = example("lapwing-cistern");
    for (const CombinationAnswer& c : a->combinations)
        EXPECT_EQ(c.ending, c.combination.id == "T2" ? Ending::lifts_free : Ending::solved) << c.combination.id;
    const Row* floats = nullptr;
    for (const Row& r : a->checks)
        if (r.id == "flotation" && r.item == "T2") floats = &r;
    ASSERT_TRUE(floats);
    EXPECT_EQ(floats->status, Status::over);
    for (const char* word : {"kN too little", "more thickness", "overhang", "kN of ties"})
        EXPECT_THAT(floats->note, HasSubstr(word));
}

TEST(Examples, HeronMastAndSandpiperRowAreSolved) {
    for (const char* name : {"heron-mast", "sandpiper-row"}) {
        const auto a = example(name);
        for (const CombinationAnswer& c : a->combinations)
            EXPECT_TRUE(c.is_solved()) << name << " " << c.combination.id;
    }
}

}  // namespace
}  // namespace mossbed::testing
