// Nothing is lost to a crash, nothing of others is overwritten unasked, large files do not freeze the window.
#include "app/recovery.h"

#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QApplication>
#include <QDir>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

#include "app/main_window.h"

namespace mossbed {
namespace {

Model raft() {
    Model m = new_model();
    m.slab.outline = Polygon{{0, 0}, {4, 0}, {4, 3}, {0, 3}};
    m.mesh_size = 1;
    m.loads.cases[0].items.push_back({SlabLoad{20}, {}});
    return m;
}
Model thicker(Model m, double h) {
    m.slab.thickness = h, m.slab.keys["thickness"] = "";
    return m;
}
int a_dead_process() {
    const pid_t child = ::fork();
    if (child == 0) ::_exit(0);
    ::waitpid(child, nullptr, 0);
    return int(child);
}
// As if the process that wrote the copy had been killed.
QString as_left_by_the_dead(const QString& copy) {
    QString dead = copy.section("~recovery", 0, 0) + "~recovery" + QString::number(a_dead_process());
    EXPECT_TRUE(QFile::copy(copy, dead));
    return dead;
}

class Recovered : public ::testing::Test {
  protected:
    Recovered() : file(folder.filePath("raft.mossbed")) { save_model(raft(), file.toStdString()); }
    QTemporaryDir folder;
    QString file;
};

TEST_F(Recovered, AnEditIsKeptBesideItsFileUntilItIsSaved) {
    Document d;
    Recovery r(&d);
    ASSERT_TRUE(d.open(file).empty());
    r.write_now();
    EXPECT_TRUE(r.copy_path().isEmpty());  // nothing to keep
    d.apply("Thicken", thicker(d.model(), 0.8));
    r.write_now();
    ASSERT_EQ(QFileInfo(r.copy_path()).absolutePath(), folder.path());
    EXPECT_EQ(load_model(r.copy_path().toStdString()).model->slab.thickness, 0.8);
    const QString copy = r.copy_path();
    d.undo_stack()->undo();  // back to what is saved: nothing to recover
    EXPECT_FALSE(QFile::exists(copy));
    d.undo_stack()->redo();
    r.write_now();
    EXPECT_TRUE(QFile::exists(copy));
    ASSERT_TRUE(d.save(file).empty());
    r.forget();
    EXPECT_FALSE(QFile::exists(copy));
}

TEST_F(Recovered, ItComesByItselfAFewSecondsAfterAnEdit) {
    Document d;
    Recovery r(&d);
    ASSERT_TRUE(d.open(file).empty());
    d.apply("Thicken", thicker(d.model(), 0.8));
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return QFile::exists(folder.filePath("raft.mossbed~recovery" + QString::number(::getpid()))); }, 15000));
}

TEST_F(Recovered, OnlyWhatADeadProcessLeftAndThatDiffersIsOffered) {
    Document d;
    Recovery r(&d);
    ASSERT_TRUE(d.open(file).empty());
    d.apply("Thicken", thicker(d.model(), 0.8));
    r.write_now();
    EXPECT_FALSE(Recovery::left_behind(file, raft()));  // its writer lives
    const QString dead = as_left_by_the_dead(r.copy_path());
    const auto left = Recovery::left_behind(file, *load_model(file.toStdString()).model);
    ASSERT_TRUE(left);
    EXPECT_EQ(left->path, dead);
    EXPECT_EQ(left->model.slab.thickness, 0.8);
    EXPECT_FALSE(Recovery::left_behind(folder.filePath("other.mossbed"), raft()));
    EXPECT_FALSE(Recovery::left_behind(file, d.model()));  // the same as what is in hand: removed
    EXPECT_FALSE(QFile::exists(dead));
}

TEST_F(Recovered, TheWindowOffersItAndTakingItIsAnEdit) {
    {
        Document d;
        Recovery r(&d);
        ASSERT_TRUE(d.open(file).empty());
        d.apply("Thicken", thicker(d.model(), 0.8));
        r.write_now();
        as_left_by_the_dead(r.copy_path());
    }
    MainWindow w;
    w.show();
    ASSERT_TRUE(w.open_file(file));
    auto* recover = w.findChild<QPushButton*>("recover");
    ASSERT_TRUE(recover && recover->isVisible());
    QTest::mouseClick(recover, Qt::LeftButton);
    EXPECT_FALSE(recover->isVisible());
    EXPECT_EQ(w.desk()->now().slab.thickness, 0.8);
    EXPECT_TRUE(w.desk()->document()->modified());
    w.findChild<QAction*>("undo")->trigger();
    EXPECT_EQ(w.desk()->now().slab.thickness, 0.6);
    EXPECT_FALSE(Recovery::left_behind(file, w.desk()->now()));
    w.desk()->document()->undo_stack()->setClean();
}

TEST_F(Recovered, WhereTheFolderCannotBeWrittenToTheCopyLiesElsewhere) {
    Document d;
    Recovery r(&d);
    ASSERT_TRUE(d.open(file).empty());
    folder.remove();  // a stick that was pulled out
    d.apply("Thicken", thicker(d.model(), 0.8));
    r.write_now();
    EXPECT_FALSE(QFile::exists(r.copy_path()));
    const QDir data(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation));
    const QStringList found = data.entryList({"raft.mossbed-*~recovery" + QString::number(::getpid())});
    ASSERT_EQ(found.size(), 1);
    EXPECT_EQ(load_model(data.filePath(found[0]).toStdString()).model->slab.thickness, 0.8);
    r.forget();
    EXPECT_FALSE(data.exists(found[0]));
}

// Presses a button of the box that will be shown, by its text.
void answer_with(const QString& text, bool* asked) {
    QTimer::singleShot(50, [text, asked] {
        auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
        if (!box) return;
        *asked = true;
        for (QAbstractButton* b : box->buttons())
            if (b->text() == text) return b->click();
        box->reject();
    });
}

TEST_F(Recovered, AFileThatOthersChangedIsAskedAbout) {
    MainWindow w;
    w.show();
    ASSERT_TRUE(w.open_file(file));
    w.desk()->document()->apply("Thicken", thicker(w.desk()->now(), 0.8));
    save_model(thicker(raft(), 1.1), file.toStdString());  // somebody else
    EXPECT_TRUE(w.desk()->document()->changed_by_others());
    bool asked = false;
    answer_with("Back", &asked);
    w.findChild<QAction*>("save")->trigger();
    EXPECT_TRUE(asked);
    EXPECT_EQ(load_model(file.toStdString()).model->slab.thickness, 1.1);  // theirs is still there
    asked = false;
    answer_with("Replace it", &asked);
    w.findChild<QAction*>("save")->trigger();
    EXPECT_TRUE(asked);
    EXPECT_EQ(load_model(file.toStdString()).model->slab.thickness, 0.8);
    asked = false;
    w.desk()->document()->apply("Thicken", thicker(w.desk()->now(), 0.9));
    answer_with("Back", &asked);
    w.findChild<QAction*>("save")->trigger();  // ours now: no question
    QTest::qWait(80);
    EXPECT_FALSE(asked);
    EXPECT_EQ(load_model(file.toStdString()).model->slab.thickness, 0.9);
}

TEST_F(Recovered, ALargeFileIsReadWhileTheWindowLives) {
    Model m = raft();
    m.notes = std::string(30'000'000, 'n');
    save_model(m, file.toStdString());
    MainWindow w;
    w.show();
    int lived = 0;
    QTimer heart;
    QObject::connect(&heart, &QTimer::timeout, [&] { ++lived; });
    heart.start(5);
    ASSERT_TRUE(w.open_file(file));
    EXPECT_GE(lived, 3);
    EXPECT_EQ(w.desk()->now().notes.str().size(), 30'000'000u);
    // What is asked for later wins: the first is given up.
    const QString other = folder.filePath("other.mossbed");
    save_model(thicker(raft(), 0.7), other.toStdString());
    bool second = false;
    QTimer::singleShot(1, [&] { second = w.open_file(other); });
    EXPECT_FALSE(w.open_file(file));
    EXPECT_TRUE(second);
    EXPECT_EQ(w.desk()->now().slab.thickness, 0.7);
}

TEST(LedgerWords, NearTheLimitThreeDigitsAndNoLimitInItsOwnWords) {
    EXPECT_EQ(LedgerModel::use_in_words(0.974), "0.97");
    EXPECT_EQ(LedgerModel::use_in_words(0.9962), "0.996");
    EXPECT_EQ(LedgerModel::use_in_words(1.0021), "1.002");
    EXPECT_EQ(LedgerModel::use_in_words(1), "1.00");
    EXPECT_EQ(LedgerModel::use_in_words(1e9), "> 99");
    Desk desk;
    Row r;
    r.value = 12.3, r.unit = Unit::millimetre;
    r.without_limit("Nobody set a limit.");
    EXPECT_TRUE(LedgerModel::subtitle(&desk, r).contains("12.3"));
    r = {};
    r.value = 900, r.limit = 905, r.unit = Unit::square_millimetre, r.chosen = true;
    r.judge(900.0 / 905);
    EXPECT_TRUE(LedgerModel::subtitle(&desk, r).contains("chosen"));
}

}  // namespace
}  // namespace mossbed
