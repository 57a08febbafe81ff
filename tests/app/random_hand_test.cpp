// A hand that does anything: random clicks, drags, keys, pastes, undo, files. Nothing crashes, what fields show is what
// the model holds, and what is saved reads back as the model. A short while in every run; MOSSBED_RANDOM_SECONDS for
// long ones (with a build under the address sanitizer), MOSSBED_RANDOM_SEED to see one again.
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTimer>
#include <random>

#include "core/model/edit.h"
#include "tests/app/window_fixture.h"

namespace mossbed {
namespace {

class RandomHand : public Window {
  protected:
    int pick(int n) { return n <= 0 ? 0 : int(random_() % unsigned(n)); }
    template <class T>
    const T& one_of(const std::vector<T>& list) {
        return list[size_t(pick(int(list.size())))];
    }
    QPoint somewhere(const QWidget* on) { return {pick(on->width()), pick(on->height())}; }

    void click_somewhere() {
        const std::vector<QWidget*> places{plan(), plan(), w.lower()->cut(), w.ledger()->viewport(),
                                           w.findChild<QWidget*>("trail")};
        QWidget* on = one_of(places);
        if (!on->isVisible()) return;
        const QPoint at = somewhere(on);
        const auto button = pick(6) == 0 && on == plan() ? Qt::RightButton : Qt::LeftButton;
        QTest::mouseMove(on, at);
        QTest::mousePress(on, button, pick(4) == 0 ? Qt::ShiftModifier : Qt::NoModifier, at);
        QTest::mouseRelease(on, button, {}, at);
        if (auto* menu = w.findChild<QMenu*>("plan-menu")) {
            const auto actions = menu->actions();
            if (!actions.isEmpty() && pick(2)) one_of(std::vector<QAction*>(actions.begin(), actions.end()))->trigger();
            menu->close();
        }
    }
    void drag_somewhere() {
        QWidget* on = pick(4) ? static_cast<QWidget*>(plan()) : w.lower()->cut();
        if (!on->isVisible()) return;
        QPoint at = somewhere(on);
        if (on == plan() && pick(2) && !model().columns.empty()) {
            const Column& c = one_of(model().columns);
            at = this->at(c.at.x, c.at.y);
        }
        QTest::mousePress(on, Qt::LeftButton, {}, at);
        for (int k = 0; k < 4; ++k) QTest::mouseMove(on, at += QPoint(pick(61) - 30, pick(61) - 30));
        if (pick(5) == 0) key(Qt::Key_Escape);
        if (pick(8) == 0) key(Qt::Key_Z, Qt::ControlModifier);
        if (pick(8) == 0) act("stop-" + QString::number(pick(7)));
        QTest::mouseRelease(on, Qt::LeftButton, {}, at);
    }
    void key(Qt::Key k, Qt::KeyboardModifiers m = {}) {
        QWidget* on = w.focusWidget() ? w.focusWidget() : plan();
        QTest::keyClick(on, k, m);
    }
    void type_somewhere() {
        std::vector<QLineEdit*> lines;
        for (QLineEdit* l : w.findChildren<QLineEdit*>())
            if (l->isVisible() && l->isEnabled()) lines.push_back(l);
        if (lines.empty()) return;
        QLineEdit* line = one_of(lines);
        QTest::mouseClick(line, Qt::LeftButton, {}, QPoint(5, 5));
        static const std::vector<QString> texts{"0.5", "12",  "3*0.2",  "24 in", "abc", "-5",   "0",    "1e9", "",
                                                "1/0", "0,7", "50 kPa", "((",    "200", "7 mm", "1e-9", "nan", "8 8 8"};
        if (QWidget* on = w.focusWidget()) QTest::keyClicks(on, one_of(texts));
        static const std::vector<Qt::Key> ends{Qt::Key_Return, Qt::Key_Tab, Qt::Key_Escape, Qt::Key_Backspace};
        if (pick(3)) key(one_of(ends));
    }
    void type_into_a_table() {
        std::vector<QAbstractItemView*> views;
        for (QAbstractItemView* v : w.findChildren<QAbstractItemView*>())
            if (v->isVisible() && v->model() && v->model()->rowCount() > 0 && v->editTriggers()) views.push_back(v);
        if (views.empty()) return;
        QAbstractItemView* v = one_of(views);
        v->setFocus();
        v->setCurrentIndex(v->model()->index(pick(v->model()->rowCount()), pick(v->model()->columnCount())));
        static const std::vector<QString> texts{"3", "6.5", "400", "clay", "x", "-2", "circle", "2*3 m", ""};
        static const std::vector<QString> blocks{"C90\t3\t3\nC91\t5\t5\n", "a\tb\tc\n", "\n", "9\n9\n9\n",
                                                 "x\ty\n4\t4\n",           "\"\t"};
        if (pick(4) == 0) {
            QApplication::clipboard()->setText(one_of(blocks));
            return QTest::keyClick(v, Qt::Key_V, Qt::ControlModifier);
        }
        for (QChar c : one_of(texts)) QTest::keyClick(w.focusWidget() ? w.focusWidget() : v, c.toLatin1());
        static const std::vector<Qt::Key> ends{Qt::Key_Return, Qt::Key_Tab, Qt::Key_Escape, Qt::Key_Delete};
        if (pick(4)) key(one_of(ends));
    }
    void press_something() {
        static const QStringList no{"working-print", "read-report",     "begin-report",
                                    "begin-demo",    "begin-sandpiper", "begin-heron"};  // ask or open files
        std::vector<QAbstractButton*> buttons;
        for (QAbstractButton* b : w.findChildren<QAbstractButton*>()) {
            const auto* t = qobject_cast<QToolButton*>(b);  // a list that opens waits for a choice
            if (b->isVisible() && b->isEnabled() && !no.contains(b->objectName()) && !(t && t->menu()))
                buttons.push_back(b);
        }
        if (!buttons.empty()) QTest::mouseClick(one_of(buttons), Qt::LeftButton);
    }
    void choose_something() {
        std::vector<QComboBox*> combos;
        for (QComboBox* c : w.findChildren<QComboBox*>())
            if (c->isVisible() && c->count()) combos.push_back(c);
        if (combos.empty()) return;
        QComboBox* c = one_of(combos);
        const int at = pick(c->count());
        c->setCurrentIndex(at);
        Q_EMIT c->activated(at);
    }
    void command() {
        static const std::vector<QString> names{"undo",
                                                "undo",
                                                "undo",
                                                "redo",
                                                "stop-0",
                                                "stop-1",
                                                "stop-2",
                                                "stop-3",
                                                "stop-4",
                                                "stop-5",
                                                "stop-6",
                                                "delete",
                                                "hold",
                                                "choose-tool",
                                                "draw-tool",
                                                "column-tool",
                                                "wall-tool",
                                                "rib-tool",
                                                "patch-tool",
                                                "opening-tool",
                                                "line-tool",
                                                "ground-patch-tool",
                                                "choose-all",
                                                "choose-alike",
                                                "show-working",
                                                "search",
                                                "moved",
                                                "keys",
                                                "lower-pane-turn",
                                                "next-combination",
                                                "show-all-action"};
        act(one_of(names));
    }
    // Another program's file is looked at; something about it is changed; it is taken, left, or stays where it is.
    void take_over() {
        static const std::vector<QString> files{"tern-quay-columns.csv", "tern-quay-plan.dxf", "tern-quay.ags"};
        if (pick(2)) w.open_file(SOURCE_DIR "/examples/" + one_of(files));
        QApplication::processEvents();
        if (auto* tray = w.findChild<QWidget*>("tray-body"))
            if (const auto choices = tray->findChildren<QComboBox*>(); !choices.isEmpty() && pick(2)) {
                QComboBox* c = choices[pick(int(choices.size()))];
                if (c->count() > 0) c->setCurrentIndex(pick(c->count())), Q_EMIT c->activated(c->currentIndex());
            }
        QApplication::processEvents();
        static const std::vector<QString> buttons{"take-table",  "take-drawing",  "take-report",
                                                  "leave-table", "leave-drawing", "leave-report"};
        if (auto* b = w.findChild<QPushButton*>(one_of(buttons))) b->click();
        if (pick(4) == 0) act("read-table-again");
        QApplication::processEvents();
    }
    void file() {
        if (pick(3) == 0) return take_over();
        const QString path = folder_.filePath(QString("%1.mossbed").arg(pick(3)));
        if (pick(2) && w.save_to(path)) {
            const Loaded back = load_model(path.toStdString());
            ASSERT_TRUE(back.model);
            EXPECT_EQ(write_model(*back.model), write_model(model()));
            fields_show_the_model();
        } else if (QFile::exists(path)) {
            w.desk()->document()->undo_stack()->setClean();
            w.open_file(path);
        }
    }
    // What stands in a field that is not being typed into is what the model holds.
    void fields_show_the_model() {
        for (Field* f : w.findChildren<Field*>()) {
            const auto d = find_field(model(), f->property("path").toString().toStdString());
            if (!d || !f->isVisible() || !d->is_number() || f->line()->is_pending() || f->line()->text().isEmpty())
                continue;
            EXPECT_EQ(f->line()->text(), plain(d->number().value_or(0)))
                << f->property("path").toString().toStdString();
        }
    }

    std::mt19937 random_;
    QTemporaryDir folder_;
};

TEST_F(RandomHand, DoesNoHarm) {
    const int seconds = qEnvironmentVariableIntValue("MOSSBED_RANDOM_SECONDS");
    const unsigned seed = qEnvironmentVariableIsSet("MOSSBED_RANDOM_SEED")
                              ? unsigned(qEnvironmentVariableIntValue("MOSSBED_RANDOM_SEED"))
                              : 20261126u;
    random_.seed(seed);
    // Whatever asks is sent away.
    QTimer answers;
    QObject::connect(&answers, &QTimer::timeout, [] {
        for (QWidget* q : QApplication::topLevelWidgets())
            if (auto* dialog = qobject_cast<QDialog*>(q); dialog && dialog->isVisible()) dialog->reject();
    });
    answers.start(20);
    ASSERT_TRUE(w.open_file(demo));
    QElapsedTimer t;
    t.start();
    int steps = 0;
    const qint64 until = seconds > 0 ? 1000ll * seconds : 6000;
    while (t.elapsed() < until && !HasFailure()) {
        SCOPED_TRACE("seed " + std::to_string(seed) + ", step " + std::to_string(steps));
        ++steps;
        switch (pick(12)) {
            case 0:
            case 1:
                click_somewhere();
                break;
            case 2:
                drag_somewhere();
                break;
            case 3:
            case 4:
                type_somewhere();
                break;
            case 5:
            case 6:
                type_into_a_table();
                break;
            case 7:
                press_something();
                break;
            case 8:
                choose_something();
                break;
            case 9:
                file();
                break;
            default:
                command();
        }
        QApplication::processEvents(QEventLoop::AllEvents, 5);
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        if (steps % 40 == 0) w.resize(one_of(std::vector<QSize>{{1000, 700}, {1280, 720}, {1280, 800}, {1920, 1080}}));
        if (steps % 300 == 0) w.open_file(demo);  // not for ever in what became of it
    }
    RecordProperty("steps", steps);
    std::printf("%d steps\n", steps);
    EXPECT_GT(steps, 20);
    QTest::keyClick(&w, Qt::Key_Escape);
}

}  // namespace
}  // namespace mossbed
