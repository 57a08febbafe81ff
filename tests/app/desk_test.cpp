// Document, engine and desk without a window: undo, newest wins, what is old says so.
#include "app/desk.h"

#include <gtest/gtest.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <thread>

#include "app/dismantling.h"

namespace mossbed {
namespace {

Model small(double thickness = 0.5) {
    Model m = new_model();
    m.slab.outline = Polygon{{0, 0}, {6, 0}, {6, 5}, {0, 5}};
    m.slab.thickness = thickness;
    Column c;
    c.id = "C1", c.at = {3, 2.5};
    m.columns = {c};
    m.loads.cases[0].items.push_back({ColumnLoad{"C1", 800, 0, 0, 0, 0}, {}});
    return m;
}
template <class F>
bool until(F done, int ms = 20000) {
    QElapsedTimer t;
    t.start();
    while (!done() && t.elapsed() < ms) QApplication::processEvents(QEventLoop::AllEvents, 5);
    return done();
}

TEST(Document, APreviewBecomesOneStepOrNone) {
    Document d;
    d.apply("Begin", small());
    Model m = d.model();
    for (double t : {0.52, 0.55, 0.6}) {
        m.slab.thickness = t;
        d.preview(m);
    }
    EXPECT_TRUE(d.previewing());
    d.commit("Thicken");
    EXPECT_EQ(d.undo_stack()->count(), 2);
    d.undo_stack()->undo();
    EXPECT_EQ(d.model().slab.thickness, 0.5);
    d.undo_stack()->redo();
    EXPECT_EQ(d.model().slab.thickness, 0.6);
    m.slab.thickness = 0.9;
    d.preview(m);
    d.cancel_preview();
    EXPECT_EQ(d.model().slab.thickness, 0.6);
    EXPECT_EQ(d.undo_stack()->count(), 2);
    m.slab.thickness = 0.6;
    d.preview(m);
    d.commit("Nothing");
    EXPECT_EQ(d.undo_stack()->count(), 2);
}

TEST(Document, AnEditThatChangesNothingIsNoStep) {
    Document d;
    d.apply("Begin", small());
    d.apply("Same", d.model());
    EXPECT_EQ(d.undo_stack()->count(), 1);
    Model m = d.model();
    m.slab.thickness = 0.8;
    d.apply("Thicken", m);
    EXPECT_EQ(d.undo_stack()->count(), 2);
}

TEST(Document, RemembersWhetherItIsSaved) {
    QTemporaryDir folder;
    Document d;
    d.apply("Begin", small());
    EXPECT_TRUE(d.modified());
    EXPECT_TRUE(d.save(folder.filePath("a.mossbed")).empty());
    EXPECT_FALSE(d.modified());
    Model m = d.model();
    m.slab.thickness = 1;
    d.apply("Thicken", m);
    EXPECT_TRUE(d.modified());
    d.undo_stack()->undo();
    EXPECT_FALSE(d.modified());
    EXPECT_FALSE(d.save("/no/such/folder/a.mossbed").empty());
    EXPECT_EQ(d.path(), folder.filePath("a.mossbed"));
}

struct Old {  // says on which thread it ended
    std::atomic<std::thread::id>& on;
    ~Old() { on = std::this_thread::get_id(); }
};

TEST(Dismantling, WhoLetsGoLastDoesNotTakeItApart) {
    std::atomic<std::thread::id> first{}, second{}, late{};
    const auto here = std::this_thread::get_id();
    std::shared_ptr<const Old> kept;
    {
        Dismantling d;
        auto one = d.watch_over(std::make_shared<const Old>(first));
        auto two = one, other = d.watch_over(std::make_shared<const Old>(second));
        kept = d.watch_over(std::make_shared<const Old>(late));
        one.reset();
        EXPECT_EQ(first.load(), std::thread::id());  // somebody holds it yet
        two.reset(), other.reset();
    }  // what was handed in has ended with it
    for (auto* on : {&first, &second}) EXPECT_TRUE(on->load() != std::thread::id() && on->load() != here);
    EXPECT_EQ(late.load(), std::thread::id());
    kept.reset();
    EXPECT_EQ(late.load(), here);
}

TEST(Engine, TheNewestJobWins) {
    Engine e;
    std::vector<long> answered;
    QObject::connect(&e, &Engine::answered, &e,
                     [&](const std::shared_ptr<const Answer>&, long r) { answered.push_back(r); });
    Model m = small();
    m.mesh_size = 0.1;  // a second's work, so that there is something to overtake
    for (long r = 1; r <= 6; ++r) {
        m.slab.thickness = 0.4 + 0.05 * double(r);
        e.submit(m, r, false);
    }
    ASSERT_TRUE(until([&] { return !answered.empty() && answered.back() == 6 && !e.busy(); }));
    EXPECT_LE(answered.size(), 3u);
    EXPECT_TRUE(std::is_sorted(answered.begin(), answered.end()));
}

TEST(Engine, RefusesWithReasonsAndGoesOn) {
    Engine e;
    int refused = 0, answered = 0;
    QObject::connect(&e, &Engine::refused, &e, [&](std::vector<Problem> p, long) { refused += !p.empty(); });
    QObject::connect(&e, &Engine::answered, &e, [&] { ++answered; });
    Model bad = small();
    bad.slab.thickness = -1;
    e.submit(bad, 1, false);
    ASSERT_TRUE(until([&] { return refused == 1; }));
    e.submit(small(), 2, false);
    EXPECT_TRUE(until([&] { return answered == 1; }));
}

Model slow() {
    Model m = small();
    m.mesh_size = 0.04;
    return m;
}
void run_events(int ms) {
    QElapsedTimer t;
    t.start();
    until([&] { return t.elapsed() > ms; });
}

TEST(Engine, AStopIsAnsweredAtOnceAndWhatStillRanIsUnheard) {
    Engine e;
    long heard = 0;
    int told_after = 0;
    QObject::connect(&e, &Engine::answered, &e, [&](const std::shared_ptr<const Answer>&, long r) { heard = r; });
    e.submit(slow(), 1, false);
    run_events(60);
    ASSERT_TRUE(e.busy());
    e.stop();
    EXPECT_FALSE(e.busy());
    QObject::connect(&e, &Engine::progressed, &e, [&] { ++told_after; });
    run_events(100);
    EXPECT_EQ(told_after, 0);
    EXPECT_EQ(heard, 0);
    e.submit(small(), 2, false);
    EXPECT_TRUE(e.busy());
    ASSERT_TRUE(until([&] { return !e.busy(); }));
    EXPECT_EQ(heard, 2);
}

TEST(Engine, EndsForGoodAndSaysWhenItHas) {
    Engine e;
    int heard = 0;
    QObject::connect(&e, &Engine::answered, &e, [&] { ++heard; });
    e.submit(slow(), 1, false);
    run_events(60);
    while (!e.end_within(std::chrono::milliseconds(20))) continue;
    EXPECT_TRUE(e.end_within(std::chrono::milliseconds(0)));
    run_events(20);
    EXPECT_EQ(heard, 0);
}

TEST(SideRun, EndsForGoodAndSaysWhenItHas) {
    SideRun runs;
    std::atomic<bool> begun{false}, let_go{false};
    bool done = false;
    runs.start(
        [&](const Progress& p) {
            begun = true;
            while (!p.stopped() || !let_go) std::this_thread::yield();
            return QString("too late");
        },
        [&](const QString&) { done = true; });
    ASSERT_TRUE(until([&] { return begun.load(); }));
    EXPECT_FALSE(runs.end_within(std::chrono::milliseconds(10)));  // it does not look
    let_go = true;
    EXPECT_TRUE(runs.end_within(std::chrono::milliseconds(5000)));
    run_events(20);
    EXPECT_FALSE(done);
}

TEST(Engine, StoppedBeforeItBeganIsNotBusy) {
    // Only waiting when it is dropped: nothing would ever report its end.
    for (int n = 0; n < 20; ++n) {
        Engine e;
        e.submit(small(), 1, false);
        e.stop();
        ASSERT_TRUE(until([&] { return !e.busy(); })) << "try " << n;
    }
}

TEST(Engine, IsBusyUntilTheNewestHasEnded) {
    Engine e;
    long newest = 0, asked = 0;
    QObject::connect(&e, &Engine::answered, &e, [&](const std::shared_ptr<const Answer>&, long r) { newest = r; });
    QObject::connect(&e, &Engine::busy_changed, &e, [&](bool busy) {
        if (!busy) {
            EXPECT_EQ(newest, asked) << "told before its answer";
        }
    });
    for (long r = 1; r <= 30; ++r) {
        Model m = small();
        m.slab.thickness = 0.4 + 0.01 * double(r);
        e.submit(m, asked = r, r % 3 != 0);
        run_events(int(r % 5) * 7);
        EXPECT_TRUE(e.busy() || newest == r) << r;
    }
    ASSERT_TRUE(until([&] { return !e.busy() && newest == 30; }));
}

TEST(Desk, ANewSlabBegunWhileSolvingIsSolved) {
    Desk d;
    d.document()->apply("Begin", slow());
    run_events(60);
    d.document()->apply("New", Model{});  // no slab yet: what runs is dropped
    EXPECT_FALSE(d.held);
    d.document()->apply("Draw", small());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
}

TEST(SideRun, ARunThatWasGivenUpDoesNotEndItsSuccessor) {
    // The first has finished but its end is not delivered yet when the second starts; the second must be heard.
    SideRun aside;
    QString first, second;
    std::atomic<bool> over{false};
    aside.start(
        [&](const Progress&) {
            over = true;
            return QString("first");
        },
        [&](const QString& t) { first = t; });
    while (!over) std::this_thread::sleep_for(std::chrono::milliseconds(1));
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
    aside.start([](const Progress&) { return QString("second"); }, [&](const QString& t) { second = t; });
    ASSERT_TRUE(until([&] { return !aside.busy(); }));
    EXPECT_EQ(first, "");
    EXPECT_EQ(second, "second");
}

TEST(SideRun, NobodyWaitsForOneThatCannotStopYet) {
    SideRun aside;
    std::atomic<bool> let_go{false};
    aside.start(
        [&](const Progress& p) {
            while (!let_go) std::this_thread::sleep_for(std::chrono::milliseconds(1));  // deep in a factorisation
            if (p.stopped()) throw Stopped{};
            return QString("never");
        },
        [&](const QString&) { ADD_FAILURE() << "it was given up"; });
    QElapsedTimer t;
    t.start();
    QString heard;
    aside.start(
        [](const Progress&) -> QString {
            throw Trouble({"a fault", "here", "mend it", Severity::error, {}});
        },
        [&](const QString& text) { heard = text; });
    EXPECT_LT(t.elapsed(), 500);
    ASSERT_TRUE(until([&] { return !heard.isEmpty(); }));
    EXPECT_TRUE(heard.contains("a fault"));
    let_go = true;
}

TEST(Desk, AnOldAnswerNeverPassesForANewOne) {
    Desk d;
    d.document()->apply("Begin", small());
    EXPECT_FALSE(d.in_step());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    Model m = d.now();
    m.slab.thickness = 0.8;
    d.document()->apply("Thicken", m);
    EXPECT_FALSE(d.in_step());
    EXPECT_TRUE(d.answer());  // the old one is still there to look at
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_EQ(d.answer()->model->slab.thickness, 0.8);
}

// Some 43 000 cells: the whole answer takes a second or two.
Model fine() {
    Model m = small();
    m.mesh_size = 0.0265;
    return m;
}
struct Told {  // what a desk's engine answers, in order: 'l' a look, 'f' a full answer
    std::string all;
    explicit Told(Desk& d) {
        QObject::connect(d.engine(), &Engine::answered, &d,
                         [this](const std::shared_ptr<const Answer>& a, long) { all += a->coarse ? 'l' : 'f'; });
    }
};
double settlement(const Desk& d) {
    for (const Row& r : d.rows())
        if (r.id == "settlement" && r.value) return *r.value;
    return -1;
}

TEST(Desk, ALargeModelIsLookedAtBeforeItIsAnsweredWhole) {
    Desk d;
    Told told(d);
    d.document()->apply("Begin", fine());
    ASSERT_TRUE(until([&] { return d.answer() != nullptr; }));
    EXPECT_TRUE(d.answer()->coarse);
    EXPECT_TRUE(d.engine()->busy());
    EXPECT_FALSE(d.in_step());
    EXPECT_FALSE(d.is_old());  // it is of the model in hand
    const double about = settlement(d);
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_EQ(told.all, "lf");
    EXPECT_GT(d.answer()->mesh.nodes.size(), 40'000u);
    EXPECT_NEAR(about, settlement(d), 0.03 * settlement(d));

    Model m = d.now();
    for (LoadItem& i : m.loads.cases[0].items) std::get<ColumnLoad>(i.load).N = 900;
    d.document()->apply("Load more", m);
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_EQ(told.all, "lflf");
}

TEST(Desk, ALookThatSaysNothingNewIsNotShown) {
    Desk d;
    Told told(d);
    d.document()->apply("Begin", fine());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    Model m = d.now();
    m.ground.allowable_pressure *= 2;
    d.document()->apply("Allow more", m);
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_EQ(told.all, "lff");
}

TEST(Desk, AStopAfterTheLookLeavesTheLook) {
    Desk d;
    Told told(d);
    d.document()->apply("Begin", fine());
    ASSERT_TRUE(until([&] { return d.answer() != nullptr; }));
    d.hold(true);
    EXPECT_FALSE(d.engine()->busy());
    std::this_thread::sleep_for(std::chrono::milliseconds(300));
    QApplication::processEvents();
    EXPECT_EQ(told.all, "l");
    EXPECT_TRUE(d.answer()->coarse);
    EXPECT_FALSE(d.in_step());
    d.hold(false);
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_EQ(told.all.back(), 'f');
}

TEST(Desk, ASmallModelIsNotLookedAtFirst) {
    Desk d;
    Told told(d);
    d.document()->apply("Begin", small());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_EQ(told.all, "f");
}

// While a hand drags, rows of the ground follow and those of concrete and steel stay from the last full answer.
TEST(Desk, ACoarseFrameKeepsTheRowsItCannotKnow) {
    Desk d;
    d.document()->apply("Begin", small());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    auto use = [&](const std::string& id) {
        for (const Row& r : d.rows())
            if (r.id == id && r.utilisation) return *r.utilisation;
        return -1.0;
    };
    const double bearing = use("bearing"), punching = use("punching");
    ASSERT_GT(punching, 0);
    Model m = d.now();
    for (LoadItem& i : m.loads.cases[0].items)
        if (auto* l = std::get_if<ColumnLoad>(&i.load)) l->N *= 1.4;
    d.document()->preview(m);
    ASSERT_TRUE(until([&] { return d.answer()->coarse; }));
    EXPECT_GT(use("bearing"), 1.1 * bearing);
    EXPECT_EQ(use("punching"), punching);
    EXPECT_FALSE(d.in_step());
    EXPECT_FALSE(
        d.use_before(*std::find_if(d.rows().begin(), d.rows().end(), [](const Row& r) { return r.id == "punching"; })));
    d.document()->commit("Load more");
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_GT(use("punching"), 1.1 * punching);
    for (size_t k = 1; k < d.rows().size(); ++k)  // the worst stays first
        if (d.rows()[k - 1].status == Status::pass && d.rows()[k].status == Status::pass &&
            d.rows()[k - 1].id == d.rows()[k].id) {
            EXPECT_GE(d.rows()[k - 1].utilisation.value_or(0), d.rows()[k].utilisation.value_or(0));
        }
}

TEST(Desk, RowsRememberTheirUseBeforeTheLastEdit) {
    Desk d;
    d.document()->apply("Begin", small());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    auto bearing = [&]() -> const Row* {
        for (const Row& r : d.rows())
            if (r.id == "bearing") return &r;
        return nullptr;
    };
    const double before = *bearing()->utilisation;
    Model m = d.now();
    m.ground.allowable_pressure *= 2;
    d.document()->apply("Allow more", m);
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    EXPECT_NEAR(*d.use_before(*bearing()), before, 1e-12);
    EXPECT_NEAR(*bearing()->utilisation, before / 2, 1e-12);
}

TEST(Desk, AScaleIsRememberedByQuantity) {
    Desk d;
    d.document()->apply("Begin", small());
    ASSERT_TRUE(until([&] { return d.in_step(); }));
    d.look_at(Quantity::pressure);
    d.set_bands(Bands{0, 200, 4});
    d.look_at(Quantity::mx);
    EXPECT_NE(d.bands(), (Bands{0, 200, 4}));
    d.look_at(Quantity::pressure);
    EXPECT_EQ(d.bands(), (Bands{0, 200, 4}));
    d.set_bands(std::nullopt);
    EXPECT_NE(d.bands(), (Bands{0, 200, 4}));
}

TEST(Desk, WhatIsChosenGoesWhenItIsGone) {
    Desk d;
    d.document()->apply("Begin", small());
    d.choose({{ThingKind::column, "C1"}});
    Model m = d.now();
    m.columns.clear();
    m.loads.cases[0].items.clear();
    d.document()->apply("Delete", m);
    EXPECT_TRUE(d.chosen.empty());
}

}  // namespace
}  // namespace mossbed
