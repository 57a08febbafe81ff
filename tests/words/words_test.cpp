// Numbers and workings written out, in metric and US customary units.
#include <gtest/gtest.h>

#include "tests/core/helpers.h"
#include "words/terms.h"

namespace mossbed {
namespace {

TEST(Words, RoundAsEngineersDo) {
    EXPECT_EQ(written_with_unit(141.6, "kPa"), "142 kPa");
    EXPECT_EQ(written_with_unit(4.16, "kPa"), "4.2 kPa");
    EXPECT_EQ(written_with_unit(18.44, "mm"), "18.4 mm");
    EXPECT_EQ(written_with_unit(123.4, "mm"), "123 mm");
    EXPECT_EQ(written(0.9149, ""), "0.91");
    EXPECT_EQ(written(0.002, ""), "1/500");
    EXPECT_EQ(written(-0.0004, 2), "0.00");  // no −0
    EXPECT_EQ(written(-1.5, 1), "-1.5");
}

TEST(Words, TurnIntoUSCustomaryUnits) {
    auto us = [](double v, Unit u) { return in_units(v, u, UnitSystem::us); };
    EXPECT_NEAR(us(0.3048, Unit::metre).value, 1, 1e-12);
    EXPECT_NEAR(us(25.4, Unit::millimetre).value, 1, 1e-12);
    EXPECT_NEAR(us(100, Unit::kilonewton).value, 22.4809, 1e-4);
    EXPECT_NEAR(us(100, Unit::kilonewton_metre).value, 73.7562, 1e-4);  // kip·ft
    EXPECT_NEAR(us(100, Unit::kilopascal).value, 2.08854, 1e-5);        // ksf
    EXPECT_NEAR(us(30, Unit::megapascal).value, 4.35113, 1e-5);         // ksi
    EXPECT_NEAR(us(1000, Unit::square_millimetre_per_metre).value, 0.47244, 1e-5);
    EXPECT_EQ(us(5, Unit::years).unit, "years");
    EXPECT_EQ(us(100, Unit::kilopascal).unit, "ksf");
}

const Term net{.text = "net force",
               .symbol = "V_red",
               .formula = "{V} − {ΔV}",
               .put_in = {{"V", 1200, Unit::kilonewton}, {"ΔV", -300.4, Unit::kilonewton}},
               .value = 1500.4,
               .unit = Unit::kilonewton,
               .clause = "(6.48)"};
const Term size_effect{.text = "size effect",
                       .symbol = "k",
                       .formula = "1 + √(200/{d}) ≤ 2",
                       .put_in = {{"d", 454, Unit::millimetre}},
                       .value = 1.6637,
                       .clause = "6.4.4(1)",
                       .in_code_units = true};

TEST(Words, ATermIsWrittenWithItsNumbersPutIn) {
    const WrittenTerm w = written(net);
    EXPECT_EQ(w.text, "net force, (6.48)");
    EXPECT_EQ(w.formula, "V_red = 1200 − (-300)");
    EXPECT_EQ(w.value, "1500");
    EXPECT_EQ(w.unit, "kN");
    EXPECT_EQ(in_symbols(net), "V − ΔV");
    const WrittenTerm us = written(net, UnitSystem::us);
    EXPECT_EQ(us.formula, "V_red = 270 − (-68)");
    EXPECT_EQ(us.unit, "kip");
}

TEST(Words, AFormulaInTheCodesOwnUnitsKeepsThem) {
    EXPECT_EQ(written(size_effect).formula, "k = 1 + √(200/454) ≤ 2");
    EXPECT_EQ(written(size_effect, UnitSystem::us).formula, "k = 1 + √(200/454 mm) ≤ 2");
}

TEST(Words, ANameThatNothingWasPutInForStaysAsItIs) {
    Term t{.formula = "max({a}, {b!}) {", .put_in = {{"b", 2.5, Unit::metre}}};
    EXPECT_EQ(written(t).formula, "max(a, 2.50 m) {");
}

// Every working of a real answer: all braces filled, no number that is none, values that follow the units.
TEST(Words, EveryTermOfTheDemoCanBeWritten) {
    const Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    const auto a = solve(m);
    int terms = 0;
    for (const Row& r : a->checks)
        for (const Term& t : r.working)
            for (UnitSystem u : {UnitSystem::metric, UnitSystem::us}) {
                const WrittenTerm w = written(t, u);
                ++terms;
                EXPECT_EQ(w.formula.find_first_of("{}"), std::string::npos) << r.title << ": " << w.formula;
                EXPECT_EQ(w.formula.find("nan"), std::string::npos) << r.title << ": " << w.formula;
                EXPECT_FALSE(w.text.empty()) << r.title;
                EXPECT_EQ(w.value.find("nan"), std::string::npos) << r.title << ": " << w.text;
                for (const Measure& q : t.put_in)
                    EXPECT_TRUE(t.formula.find("{" + q.symbol + "}") != std::string::npos ||
                                t.formula.find("{" + q.symbol + "!}") != std::string::npos || t.formula.empty() ||
                                q.symbol == "cos²")
                        << r.title << ": " << q.symbol << " is not in " << t.formula;
            }
    EXPECT_GT(terms, 500);
}

}  // namespace
}  // namespace mossbed
