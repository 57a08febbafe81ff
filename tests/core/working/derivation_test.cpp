// What nobody reads is not written; what is written does not hang on what was judged with.
#include "core/working/derivation.h"

#include <thread>

#include "core/judge/punching_demand.h"
#include "tests/core/helpers.h"
#include "words/terms.h"

namespace mossbed {
namespace {
using namespace testing;

std::vector<Term> some_terms() { return {{.text = "one", .value = 1}, {.text = "two", .value = 2}}; }

TEST(Derivation, IsWrittenWhenFirstReadAndOnce) {
    int written = 0;
    const Derivation d(Derivation::Write([&] { return ++written, some_terms(); }));
    const Derivation copy = d;
    EXPECT_EQ(written, 0);
    EXPECT_EQ(copy.size(), 2u);
    EXPECT_EQ(d.begin()[1].text, "two");
    EXPECT_EQ(d.terms().data(), copy.terms().data());
    EXPECT_EQ(written, 1);
}

TEST(Derivation, LetsGoOfWhatItWasWrittenFrom) {
    auto from = std::make_shared<int>(7);
    const Derivation d(Derivation::Write([from] { return std::vector<Term>{{.text = "it", .value = double(*from)}}; }));
    EXPECT_EQ(from.use_count(), 2);
    EXPECT_EQ(d.begin()->value, 7);
    EXPECT_EQ(from.use_count(), 1);
}

TEST(Derivation, MayBeReadByManyAtOnce) {
    std::atomic<int> written = 0, terms = 0;
    const Derivation d(Derivation::Write([&] { return ++written, some_terms(); }));
    std::vector<std::thread> readers;
    for (int k = 0; k < 8; ++k) readers.emplace_back([&] { terms += int(d.size()); });
    for (std::thread& t : readers) t.join();
    EXPECT_EQ(written, 1);
    EXPECT_EQ(terms, 16);
}

TEST(Derivation, ThatCannotBeWrittenIsTriedAgain) {
    bool bad = true;
    const Derivation d(Derivation::Write([&] {
        if (bad) throw std::runtime_error("no memory");
        return some_terms();
    }));
    EXPECT_THROW(d.size(), std::runtime_error);
    bad = false;
    EXPECT_EQ(d.size(), 2u);
}

TEST(Derivation, KnowsWhatItWasGivenAndOtherwiseNothing) {
    EXPECT_TRUE(Derivation().empty());
    EXPECT_EQ(Derivation(some_terms()).size(), 2u);
    EXPECT_TRUE(Derivation(std::vector<Term>{}).empty());
}

// Columns alone and together, at a rim, by a pull, a wall's end: rows outlive their answer, and say what they said.
TEST(Derivation, OfPunchingIsThereWhenItsAnswerIsGoneAndEndsInTheRowsNumbers) {
    const Model m = *load_model(SOURCE_DIR "/tests/data/quay.mossbed").model;
    auto a = solve(m);
    std::vector<Row> unread, read;
    for (const Row& r : a->checks)
        if (r.id == "punching" && r.utilisation) unread.push_back(r);
    const auto again = solve(m);
    for (const Row& r : again->checks)
        if (r.id == "punching" && r.utilisation) read.push_back(r);
    ASSERT_GT(unread.size(), 20u);
    ASSERT_EQ(unread.size(), read.size());
    std::weak_ptr<const PunchingDemand> judged_by = a->punching_demand;
    a.reset();
    EXPECT_FALSE(judged_by.expired());  // its rows keep it
    for (size_t k = 0; k < unread.size(); ++k) {
        const Row& r = unread[k];
        ASSERT_GT(r.working.size(), 8u) << r.title;
        ASSERT_EQ(r.working.size(), read[k].working.size()) << r.title;
        bool has_value = false, has_limit = false;
        for (size_t i = 0; i < r.working.size(); ++i) {
            const Term &t = r.working.terms()[i], &o = read[k].working.terms()[i];
            EXPECT_EQ(written(t).text + written(t).formula, written(o).text + written(o).formula) << r.title;
            EXPECT_EQ(t.value, o.value) << r.title << ": " << t.text;
            has_value |= std::abs(t.value - *r.value) < 1e-12 * std::abs(*r.value);
            has_limit |= std::abs(t.value - *r.limit) < 1e-12 * std::abs(*r.limit);
        }
        EXPECT_TRUE(has_value && has_limit) << r.title;
    }
    EXPECT_TRUE(judged_by.expired());  // and let go of it, once all is written
}

}  // namespace
}  // namespace mossbed
