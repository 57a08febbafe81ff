// The Desk's part in taking things over from other programs' files.
#include <QFileInfo>

#include "app/desk.h"
#include "app/underlays.h"
#include "core/exchange/sheet_file.h"
#include "core/file/text_encoding.h"
#include "core/file/text_file.h"

namespace mossbed {

namespace {
QString count(size_t n, const char* one, const char* many) { return QString("%1 %2").arg(n).arg(n == 1 ? one : many); }
// The cells of its file; false after it was said why not.
bool read_file(TakingTable& t, Desk& desk) {
    try {
        t.cells = read_table_file(read_text(t.path.toStdString()));
        return true;
    } catch (const Trouble& e) {
        desk.say(t.file + ": " + QString::fromStdString(e.problem.sentence()), true);
        return false;
    }
}
}  // namespace

void Desk::leave_taking() {
    taking.reset(), taking_table.reset(), taking_drawing.reset();
    tell(choice | view);
}

void Desk::read_report(const QString& path) {
    TakingReport t;
    t.file = path.section('/', -1);
    try {
        t.report = read_ground_report(read_text(path.toStdString()));
    } catch (const Trouble& e) {
        return say(QString::fromStdString(e.problem.sentence()), true);
    }
    t.placing = likely_placing(t.report, now());
    for (const ReportCode& c : t.report.codes) t.placing.stratum_of[c.code] = c.code;
    leave_taking();
    taking = std::move(t);
    go_to(Stop::ground);
    Q_EMIT ground_came();
}

void Desk::take_report() {
    if (!taking) return;
    Model m = with_report(now(), taking->report, taking->placing);
    const size_t n = size_t(std::count_if(taking->report.holes.begin(), taking->report.holes.end(),
                                          [&](const ReportHole& h) { return reason_left_out(h, now()).empty(); }));
    taking.reset();
    document_.apply(QString("Take over %1 boreholes").arg(n), std::move(m));
    Q_EMIT changed(view | choice);
    Q_EMIT ground_came();
}

void Desk::begin_table(TakingTable t) {
    t.read_again(now());
    leave_taking();
    choose({});
    taking_table = std::move(t);
    go_to(Stop::slab);
    tell(view | choice);
    Q_EMIT plan_came();
}

void Desk::read_table(const QString& path) {
    TakingTable t;
    t.file = path.section('/', -1), t.path = path;
    if (read_file(t, *this)) begin_table(std::move(t));
}

void Desk::read_table_text(const std::string& text) {
    TakingTable t;
    t.file = "the clipboard";
    t.cells = read_cells(text);
    t.cells.ends_openly = false;  // nothing was cut off
    begin_table(std::move(t));
}

void Desk::read_table_again() {
    if (!last_table_) return;
    TakingTable t = *last_table_;
    if (!read_file(t, *this)) return;
    // What was changed in how its columns are read holds while they read the same by themselves, units among them.
    if (find_heads(t.cells).heads != t.understood) t.options.heads.clear();
    begin_table(std::move(t));
}

void Desk::take_table() {
    if (!taking_table) return;
    TakingTable t = std::move(*taking_table);
    taking_table.reset();
    const Taken& taken = t.taken;
    QStringList words;
    if (taken.added) words << count(size_t(taken.added), "column", "columns");
    if (taken.loaded) words << "loads of " + count(size_t(taken.loaded), "column", "columns");
    if (words.isEmpty()) words << count(t.table.columns.size(), "column", "columns");
    document_.apply("Take over " + words.join(", "), taken.model);
    if (!t.path.isEmpty()) last_table_ = std::move(t);
    tell(view | choice);
    Q_EMIT plan_came();
}

void Desk::read_drawing_file(const QString& path) {
    TakingDrawing t;
    t.file = path.section('/', -1), t.path = path;
    try {
        t.drawing = read_drawing(read_text(path.toStdString()));
    } catch (const Trouble& e) {
        return say(t.file + ": " + QString::fromStdString(e.problem.sentence()), true);
    }
    t.read_again(now());
    leave_taking();
    choose({});
    taking_drawing = std::move(t);
    go_to(Stop::slab);
    tell(view | choice);
    Q_EMIT plan_came();
}

void Desk::take_drawing_file() {
    if (!taking_drawing) return;
    const TakingDrawing t = std::move(*taking_drawing);
    taking_drawing.reset();
    Model m = t.taken.model;
    const std::string file = name_of_underlay(t.path, document_.folder());
    Box extent;
    for (const auto& stroke : t.plan.strokes)
        for (Point p : stroke) extent.add(p);
    if (t.keep_under && extent.width() > 0) {
        auto it =
            std::find_if(m.underlays.begin(), m.underlays.end(), [&](const Underlay& u) { return u.file == file; });
        if (it == m.underlays.end()) {
            Underlay u;
            for (int n = 1; u.id.empty() || find_id(m.underlays, u.id); ++n) u.id = "U" + std::to_string(n);
            u.file = file, u.strength = 0.35;
            it = m.underlays.insert(it, std::move(u));
        }
        it->at = extent.low, it->width = extent.width(), it->angle = 0;
    }
    QStringList words;
    if (t.taken.outline) words << "the outline";
    if (!t.taken.added.empty()) words << count(t.taken.added.size(), "thing", "things");
    document_.apply("Take over " + (words.isEmpty() ? "a drawing" : words.join(" and ")), std::move(m));
    tell(view | choice);
    Q_EMIT plan_came();
}

}  // namespace mossbed
