// The real window for tests, driven by mouse and keys.
#pragma once
#include <gtest/gtest.h>

#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QTest>

#include "app/main_window.h"

namespace mossbed {

// The demo on springs with a coarse mesh: a whole answer in a quarter of a second. The demo itself is opened once.
inline const QString demo = SOURCE_DIR "/tests/data/quay-on-springs.mossbed";

class Window : public ::testing::Test {
  protected:
    Window() {
        w.resize(1280, 800);
        w.show();
        EXPECT_TRUE(QTest::qWaitForWindowExposed(&w));
    }
    ~Window() override { w.desk()->document()->undo_stack()->setClean(); }

    // Until the answer is that of the model in hand.
    bool in_step(int ms = 30000) {
        QElapsedTimer t;
        t.start();
        while (t.elapsed() < ms) {
            QApplication::processEvents(QEventLoop::AllEvents, 10);
            if (w.desk()->in_step() && !w.desk()->engine()->busy()) return true;
            if (!w.desk()->problems().empty()) return false;
        }
        return false;
    }
    const Model& model() { return w.desk()->now(); }
    PlanView* plan() { return w.plan(); }
    QPoint at(double x, double y) { return plan()->on_screen({x, y}).toPoint(); }
    void click(double x, double y, Qt::KeyboardModifiers m = {}) {
        QTest::mouseMove(plan(), at(x, y)), QTest::mouseClick(plan(), Qt::LeftButton, m, at(x, y));
    }
    void drag(QPoint from, QPoint to, bool release = true) {
        QTest::mouseMove(plan(), from);
        QTest::mousePress(plan(), Qt::LeftButton, {}, from);
        for (int k = 1; k <= 6; ++k) QTest::mouseMove(plan(), from + (to - from) * k / 6);
        if (release) QTest::mouseRelease(plan(), Qt::LeftButton, {}, to);
    }
    template <class T>
    T* widget(const QString& name) {
        T* found = w.findChild<T*>(name);
        EXPECT_TRUE(found) << name.toStdString();
        return found;
    }
    void type(const QString& field, const QString& text) {
        auto* line = widget<QLineEdit>(field);
        ASSERT_TRUE(line);
        line->setFocus();
        line->selectAll();
        QTest::keyClick(line, Qt::Key_Delete);
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
    }
    void press(const QString& name) {
        auto* b = widget<QPushButton>(name);
        ASSERT_TRUE(b);
        QTest::mouseClick(b, Qt::LeftButton);
        settle();
    }
    void pick(const QString& combo, const QString& text) {
        auto* c = widget<QComboBox>(combo);
        ASSERT_TRUE(c);
        const int at = c->findText(text);
        ASSERT_GE(at, 0) << text.toStdString();
        c->setCurrentIndex(at);
        Q_EMIT c->activated(at);
        settle();
    }
    void settle() {  // pages that gave way are gone
        QApplication::processEvents();
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    void act(const QString& name) {
        auto* a = widget<QAction>(name);
        ASSERT_TRUE(a);
        a->trigger();
    }
    double use(const std::string& id) {
        for (const Row& r : w.desk()->rows())
            if (r.id == id && r.utilisation) return *r.utilisation;
        return -1;
    }
    void draw_raft() {  // 9 × 7 m by clicks, closed on the first corner
        act("draw-tool");
        click(1, 1), click(10, 1), click(10, 8), click(1, 8), click(1, 1);
    }

    MainWindow w;
};

}  // namespace mossbed
