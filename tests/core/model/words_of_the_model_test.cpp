// Enumerations and their words; the name of everything that can be chosen.
#include <gmock/gmock.h>

#include "core/model/thing.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using ::testing::HasSubstr;

template <class E>
void expect_round_trip() {
    for (size_t i = 0; i < Words<E>::all.size(); ++i) {
        EXPECT_EQ(std::string(name_of(E(i))), Words<E>::all[i]);
        EXPECT_EQ(from_word<E>(Words<E>::all[i]), E(i));
    }
    EXPECT_FALSE(from_word<E>("no such word"));
    EXPECT_FALSE(from_word<E>(""));
}

TEST(WordsOfTheModel, EachIsReadAsItIsWritten) {
    expect_round_trip<GroundModel>();
    expect_round_trip<SettlementMethod>();
    expect_round_trip<Flush>();
    expect_round_trip<ColumnShape>();
    expect_round_trip<Action>();
    expect_round_trip<Purpose>();
    expect_round_trip<Frequency>();
    expect_round_trip<Safety>();
    expect_round_trip<Face>();
    expect_round_trip<Direction>();
    expect_round_trip<UnitSystem>();
    EXPECT_STREQ(name_of(SettlementMethod::one_dimensional), "one-dimensional");
    EXPECT_EQ(words_to_choose<Face>(), "\"top\", \"bottom\"");
}

struct Misspelt {
    const char *what, *model, *where, *choice;
};

// A word that is none is refused with the place, the word, and those that are.
TEST(WordsOfTheModel, AMisspeltWordIsRefusedWithTheChoice) {
    const std::vector<Misspelt> cases{
        {"ground", R"({"ground":{"model":"springy"}})", "ground.model", "\"patches\""},
        {"method", R"({"ground":{"settlement_method":"1d"}})", "ground.settlement_method", "\"one-dimensional\""},
        {"flush",
         R"({"slab":{"outline":[[0,0],[4,0],[4,4]],"patches":[{"id":"T","outline":[[0,0],[1,0],[1,1]],"flush":"Top"}]}})",
         "slab.patches[T].flush", "\"middle\""},
        {"shape", R"({"columns":[{"id":"C","at":[0,0],"shape":"round"}]})", "columns[C].shape", "\"circle\""},
        {"action", R"({"loads":{"cases":[{"id":"G","action":"dead"}]}})", "loads.cases[G].action", "\"permanent\""},
        {"purpose", R"({"loads":{"combinations":[{"id":"S","purpose":"sls"}]}})", "loads.combinations[S].purpose",
         "\"service\""},
        {"frequency", R"({"loads":{"combinations":[{"id":"S","frequency":"rare"}]}})",
         "loads.combinations[S].frequency", "\"quasi-permanent\""},
        {"face", R"({"steel":{"extra":[{"id":"E","outline":[[0,0],[1,0],[1,1]],"face":"under"}]}})",
         "steel.extra[E].face", "\"bottom\""},
        {"units", R"({"settings":{"display_units":"imperial"}})", "settings.display_units", "\"us\""},
    };
    for (const Misspelt& c : cases) {
        std::string text = c.model;
        text.insert(1, R"("format":"mossbed","version":1,)");
        if (text.find("\"slab\"") == std::string::npos) text.insert(1, R"("slab":{"outline":[[0,0],[4,0],[4,4]]},)");
        const Loaded l = read_model(text);
        EXPECT_FALSE(l.model) << c.what;
        std::string all;
        for (const Problem& p : l.problems) all += p.sentence() + "\n";
        EXPECT_THAT(all, HasSubstr(c.where)) << c.what;
        EXPECT_THAT(all, HasSubstr("is not one of the words known here")) << c.what;
        EXPECT_THAT(all, HasSubstr(c.choice)) << c.what;
    }
}

TEST(WordsOfTheModel, NoFrequencyIsANullAndAWordOtherwise) {
    Model m = testing::raft(testing::box(0, 0, 4, 4), 0.4, 1e4);
    EXPECT_FALSE((*read_model(write_model(m)).model->loads.combinations)[0].frequency);
    (*m.loads.combinations)[0].frequency = Frequency::quasi_permanent;
    const std::string text = write_model(m);
    EXPECT_THAT(text, HasSubstr("\"frequency\": \"quasi-permanent\""));
    const Loaded l = read_model(text);
    ASSERT_TRUE(l.model);
    EXPECT_EQ((*l.model->loads.combinations)[0].frequency, Frequency::quasi_permanent);
}

TEST(Things, AreThereAsLongAsTheModelHasThem) {
    Model m = testing::raft(testing::box(0, 0, 4, 4), 0.4, 1e4);
    m.columns = {testing::column("C1", 1, 1), testing::column("C2", 3, 3)};
    Borehole b;
    b.id = "B";
    m.ground.boreholes = {b};
    EXPECT_TRUE(is_there(m, {ThingKind::column, "C2"}));
    EXPECT_FALSE(is_there(m, {ThingKind::column, "B"}));
    EXPECT_TRUE(is_there(m, {ThingKind::borehole, "B"}));
    EXPECT_TRUE(is_there(m, {ThingKind::slab_side, "", 3}));
    EXPECT_FALSE(is_there(m, {ThingKind::slab_side, "", 4}));
    EXPECT_FALSE(is_there(m, {ThingKind::slab_corner, "", -1}));
    EXPECT_TRUE(is_there(m, {ThingKind::load_case, "G"}));
    EXPECT_TRUE(is_there(m, {ThingKind::combination, "S"}));
    EXPECT_FALSE(is_there(m, {ThingKind::strip, "S1"}));  // laid out by the program, not the model's own
    m.slab.outline = Circle{{0, 0}, 3};
    EXPECT_TRUE(is_there(m, {ThingKind::slab_side, "", 0}));  // its one rim
    EXPECT_FALSE(is_there(m, {ThingKind::slab_side, "", 1}));
    EXPECT_FALSE(is_there(m, {ThingKind::slab_corner, "", 0}));
    m.slab.outline = Ring{{0, 0}, 1, 3};
    EXPECT_TRUE(is_there(m, {ThingKind::slab_side, "", 1}));  // that of its hole
    const Things two{{ThingKind::column, "C1"}, {ThingKind::borehole, "B"}};
    EXPECT_EQ(ids_of(two, ThingKind::column), std::set<std::string>{"C1"});
    EXPECT_EQ(only_one(two, ThingKind::column), nullptr);
    EXPECT_EQ(only_one({{ThingKind::column, "C1"}}, ThingKind::column)->id, "C1");
    EXPECT_EQ(only_one({{ThingKind::column, "C1"}}, ThingKind::borehole), nullptr);
}

}  // namespace
}  // namespace mossbed
