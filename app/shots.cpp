#include "app/shots.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QMouseEvent>
#include <QScrollArea>
#include <QScrollBar>
#include <QThread>
#include <cstdio>
#include <functional>

#include "app/main_window.h"

namespace mossbed {
namespace {

bool wait_in_step(MainWindow& w) {
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 60000) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        if (w.desk()->in_step() && !w.desk()->engine()->busy()) return true;
        if (!w.desk()->problems().empty()) return false;
    }
    return false;
}

// The other examples: a rib in hand with its moment along the cut, a tank that floats.
int other_examples(MainWindow& w, const QString& folder, const std::function<void(const char*)>& shot) {
    Desk& d = *w.desk();
    auto open = [&](const char* name) {
        d.document()->undo_stack()->setClean();
        if (w.open_file(folder + "/" + name) && wait_in_step(w)) return true;
        std::fprintf(stderr, "%s could not be opened and solved.\n", name);
        return false;
    };
    if (!open("sandpiper-row.mossbed")) return 2;
    d.choose_combination("U1");
    d.go_to(Stop::slab);
    d.cut = {Point{-0.8, 0.7}, Point{18.8, 0.7}};
    d.choose({{ThingKind::rib, "R1"}});
    w.lower()->cut()->show_part(&CutView::Shown::pressure, false);
    w.lower()->cut()->show_part(&CutView::Shown::moment, true);
    w.plan()->show_all();
    shot("ribs");
    w.lower()->cut()->show_part(&CutView::Shown::moment, false);
    w.lower()->cut()->show_part(&CutView::Shown::pressure, true);
    if (!open("lapwing-cistern.mossbed")) return 2;
    d.go_to(Stop::contact);
    d.look_at(Quantity::pressure);
    w.plan()->show_all();
    for (const Row& r : d.rows())
        if (r.id == "flotation" && r.status == Status::over) {
            w.ledger()->show_row(r.key());
            break;
        }
    shot("floats");
    return 0;
}

// A rib under way between two columns, with the answer that follows the hand.
template <class Shot>
void draw_a_rib(MainWindow& w, Shot shot) {
    const auto& columns = w.desk()->now().columns;
    if (columns.size() < 10) return;
    const Point from = columns[1].at, to = columns[9].at;
    PlanView* plan = w.plan();
    auto send = [&](QEvent::Type type, Point p, Qt::MouseButton button) {
        const QPointF at = plan->on_screen(p);
        QMouseEvent e(type, at, plan->mapToGlobal(at), button, type == QEvent::MouseButtonPress ? button : Qt::NoButton,
                      Qt::NoModifier);
        QApplication::sendEvent(plan, &e);
    };
    plan->take(ToolKind::rib);
    plan->setAttribute(Qt::WA_UnderMouse);
    send(QEvent::MouseMove, from, Qt::NoButton);
    send(QEvent::MouseButtonPress, from, Qt::LeftButton), send(QEvent::MouseButtonRelease, from, Qt::LeftButton);
    send(QEvent::MouseMove, to, Qt::NoButton);
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < 4000 && !(w.desk()->answer()->coarse && w.desk()->answer()->model->ribs.size() == 1))
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    shot("drawing");
    plan->setAttribute(Qt::WA_UnderMouse, false);
    plan->take(ToolKind::choose);
    w.desk()->pointer_at.reset(), w.desk()->hair.reset();  // the hand leaves the plan
    wait_in_step(w);
}

}  // namespace

int make_shots(const QString& model, const QString& folder) {
    QDir().mkpath(folder);
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    auto shot = [&](const char* name) {
        QApplication::processEvents();
        w.grab(), QApplication::processEvents();  // heads say what was drawn last
        w.grab().save(folder + "/" + name + ".png");
    };
    shot("beginning");
    // The ground alone: the demo's report taken over before anything is drawn.
    if (w.open_file(QFileInfo(model).path() + "/tern-quay.ags")) {
        w.desk()->take_report();
        shot("ground-first");
        w.desk()->document()->undo_stack()->setClean();
        w.desk()->document()->start_new();
        w.desk()->go_to(Stop::contact);
    }
    // The demo from nothing: its drawing looked at, then its table of columns.
    const QString examples = QFileInfo(model).path();
    if (w.open_file(examples + "/tern-quay-plan.dxf")) {
        shot("drawing-in");
        w.desk()->take_drawing_file();
        if (w.open_file(examples + "/tern-quay-columns.csv") && wait_in_step(w)) shot("table-in");
        w.desk()->document()->undo_stack()->setClean();
        w.desk()->document()->start_new();
        w.desk()->go_to(Stop::contact);
    }
    if (!w.open_file(model) || !wait_in_step(w)) {
        std::fprintf(stderr, "%s could not be opened and solved.\n", qPrintable(model));
        return 2;
    }
    w.plan()->show_all();
    Desk& d = *w.desk();
    auto combination_with = [&](auto better) {
        std::string best;
        const CombinationAnswer* b = nullptr;
        for (const CombinationAnswer& c : d.answer()->combinations)
            if (c.is_solved() && c.combination.purpose == Purpose::service && (!b || better(c, *b)))
                b = &c, best = c.combination.id;
        d.choose_combination(best);
    };
    combination_with([](auto& a, auto& b) { return a.max_pressure > b.max_pressure; });
    d.go_to(Stop::ground);
    shot("ground");
    // The same stop further down: what the three ground models and the doubt about the ground change.
    d.compare_grounds();
    while (d.checking_mesh()) QApplication::processEvents(QEventLoop::AllEvents, 50);
    if (auto* l = w.findChild<QWidget*>("comparison-report"))
        if (auto* area = w.findChild<QScrollArea*>("tray")) {
            int at = -1, stays = 0;  // what stands above it is still being laid out
            while (stays < 10) {
                QApplication::processEvents(QEventLoop::AllEvents, 20);
                QThread::msleep(20);
                const int now = l->mapTo(area->widget(), QPoint()).y();
                stays = now == at ? stays + 1 : 0;
                at = now;
            }
            area->verticalScrollBar()->setValue(at - 64);  // with its heading
        }
    shot("ground-models");
    d.go_to(Stop::contact);
    shot("contact");
    combination_with([](auto& a, auto& b) { return a.contact_ratio < b.contact_ratio; });
    shot("lift-off");
    d.go_to(Stop::slab);
    combination_with([](auto& a, auto& b) { return a.max_pressure > b.max_pressure; });
    shot("slab");
    draw_a_rib(w, shot);
    d.go_to(Stop::loads);
    shot("loads");
    w.lower()->show_table(TableKind::load_sheet);
    shot("table");
    w.lower()->show_cut();
    w.lower()->show_combinations();
    shot("combinations");
    d.go_to(Stop::contact);
    w.lower()->show_curve();
    while (d.checking_mesh()) QApplication::processEvents(QEventLoop::AllEvents, 50);
    shot("curve");
    w.lower()->show_cut();
    combination_with([](auto& a, auto& b) { return a.max_pressure > b.max_pressure; });
    d.go_to(Stop::shear);
    for (size_t i = 0; i < d.rows().size(); ++i)
        if (d.rows()[i].id == "punching" && d.rows()[i].status == Status::pass) {
            d.fly_to(d.rows()[i]);
            break;
        }
    shot("shear");
    d.choose({}), d.flag.reset();
    d.go_to(Stop::steel);
    for (size_t i = 0; i < d.rows().size(); ++i)
        if (d.rows()[i].id == "bending" && d.rows()[i].item.ends_with(" bottom")) {
            d.fly_to(d.rows()[i]);
            d.flag.reset();
            break;
        }
    w.lower()->show_strip();
    d.seek_least_steel();
    while (d.least_steel_report.endsWith("…")) QApplication::processEvents(QEventLoop::AllEvents, 50);
    shot("steel");
    w.lower()->show_cut();
    // The Working of its punching.
    for (size_t i = 0; i < d.rows().size(); ++i)
        if (d.rows()[i].id == "punching" && d.rows()[i].status == Status::pass) {
            d.go_to(Stop::contact);
            d.choose({{ThingKind::column, d.rows()[i].item}});
            d.fly_to(d.rows()[i]);
            w.ledger()->show_row(d.rows()[i].key());
            w.ledger()->open_working();
            shot("working");
            break;
        }
    return other_examples(w, QFileInfo(model).path(), shot);
}

}  // namespace mossbed
