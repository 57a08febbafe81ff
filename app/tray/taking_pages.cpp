// A table of columns and a drawing, looked at before they are taken into the model: what everything was taken for, what
// would change, and what is not taken and why.
#include <QCheckBox>
#include <QComboBox>

#include "app/tray/pages.h"
#include "app/tray/parts.h"

namespace mossbed {

namespace {

QString counted(size_t n, const QString& one, const QString& many) {
    return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

QComboBox* choice_of(const QStringList& all, int now, const QString& name) {
    auto* c = new QComboBox;
    c->addItems(all);
    c->setCurrentIndex(now);
    c->setObjectName(name);
    c->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    c->setMinimumContentsLength(4);
    return c;
}
QHBoxLayout* labelled(const QString& label, QWidget* w, int width = 150) {
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel(label), 1);
    w->setFixedWidth(width);
    row->addWidget(w);
    return row;
}

const QStringList& holds_titles() {
    static const QStringList all = [] {
        QStringList out;
        for (int k = 0; k <= int(Holds::Hy); ++k) out << name_of(Holds(k));
        return out;
    }();
    return all;
}
const QStringList& lengths() {
    static const QStringList all{"m", "mm", "cm", "ft", "in"};
    return all;
}
const QStringList& forces() {
    static const QStringList all{"kN", "N", "MN", "kip", "lb"};
    return all;
}
QStringList units_for(Holds h) {
    switch (dimension_of(h)) {
        case Dimension::length:
            return lengths();
        case Dimension::force:
            return forces();
        case Dimension::moment:
            return {"kNm", "Nm", "MNm", "kip-ft", "lb-ft"};
        case Dimension::angle:
            return {"deg", "rad"};
        default:
            return {};
    }
}

}  // namespace

std::string TablePage::key() const {
    const TakingTable& t = *desk_->taking_table;
    return "table " + t.file.toStdString() + " " + std::to_string(t.turn) + " " +
           std::to_string(desk_->document()->revision());
}

void TablePage::read_again() {
    taking().read_again(now());
    desk_->tell(Desk::view);
}

void TablePage::build() {
    const TakingTable& t = taking();
    heading("Columns from a table", t.file);
    QString read = t.table.is_long ? "a row a column and case" : "a row a column";
    if (t.table.habit.decimal == DecimalSign::comma) read += ", decimal comma";
    words(QString("Understood: %1, %2 in %3; %4.")
              .arg(counted(t.table.columns.size(), "column", "columns"), counted(t.table.loads.size(), "load", "loads"),
                   counted(t.table.cases.size(), "case", "cases"), read),
          "table-summary");
    const auto left = sentences_of(t.table.problems, Severity::error);
    auto not_into = sentences_of(t.taken.problems, Severity::error);
    not_into.insert(not_into.begin(), left.begin(), left.end());
    if (!not_into.empty()) {
        words(QString("Not taken, %1:").arg(counted(not_into.size(), "reason", "reasons")), nullptr, true);
        box_->addWidget(sentences(not_into, "table-left-out", 7));
    }
    const auto& changes = t.taken.changes;
    if (!changes.empty()) {
        words(QString("Changes to what stands, %1:").arg(counted(changes.size(), "column", "columns")));
        box_->addWidget(sentences(changes, "table-changes", 7));
    }
    if (t.taken.anything() || t.taken.made_slab) {
        QStringList all;
        if (t.taken.added) all << counted(size_t(t.taken.added), "new column", "new columns");
        if (t.taken.moved) all << QString("%1 moved").arg(t.taken.moved);
        if (t.taken.loaded) all << QString("loads of %1").arg(counted(size_t(t.taken.loaded), "column", "columns"));
        if (t.taken.made_slab) all << "a slab round them";
        buttons({{"Take over", "take-table",
                  [this] {
                      QMetaObject::invokeMethod(
                          desk_, [d = desk_] { d->take_table(); }, Qt::QueuedConnection);
                  }},
                 {"Leave it", "leave-table", [this] {
                      QMetaObject::invokeMethod(
                          desk_, [d = desk_] { d->leave_taking(); }, Qt::QueuedConnection);
                  }}});
        words("Taking it over brings " + all.join(", ") + ". One step of undo.");
    } else {
        words(t.table.none() ? "Nothing can be taken from it." : "All of it stands in the model already.",
              "table-nothing", t.table.none());
        button("Leave it", "leave-table", [this] {
            QMetaObject::invokeMethod(
                desk_, [d = desk_] { d->leave_taking(); }, Qt::QueuedConnection);
        });
    }
    ways_of_reading();
    heads_table();
    sums_table();
    auto warnings = sentences_of(t.table.problems, Severity::warning);
    for (const std::string& w : sentences_of(t.taken.problems, Severity::warning)) warnings.push_back(w);
    if (!t.taken.missing.empty()) {
        std::string list;
        for (const std::string& id : t.taken.missing) list += (list.empty() ? "" : ", ") + id;
        warnings.push_back("not in the table, left as they are: " + list);
    }
    if (!warnings.empty()) {
        words("To know:");
        box_->addWidget(sentences(warnings, "table-warnings", 8));
    }
    box_->addStretch(1);
}

void TablePage::ways_of_reading() {
    auto* signs = choice_of({"loads on the slab", "reactions on the frame"}, taking().options.are_reactions ? 1 : 0,
                            "table-signs");
    box_->addLayout(labelled("Its numbers are", signs, 176));
    connect(signs, &QComboBox::activated, this,
            [this](int k) { taking().options.are_reactions = k == 1, read_again(); });
    if (const TableLoad* l = taking().shown_moment()) {
        const bool x = std::abs(l->load.Mx) > std::abs(l->load.My);
        words(QString("%1 of case %2 in %3: M%4 = %5 kN·m presses the slab harder towards %6, as the arrow shows.")
                  .arg(x ? "Mx" : "My", q(l->load_case), q(l->load.column), x ? "x" : "y",
                       look::number(x ? l->load.Mx : l->load.My, 1),
                       x ? (l->load.Mx > 0 ? "−y" : "+y") : (l->load.My > 0 ? "+x" : "−x")),
              "table-sense");
    }
    const auto unit = [this](const QString& label, const char* name, const QStringList& all,
                             std::optional<WrittenUnit> ColumnTableOptions::*of) {
        const auto& now = taking().options.*of;
        auto* c = choice_of(all, now ? std::max(0, int(all.indexOf(q(now->name)))) : 0, name);
        box_->addLayout(labelled(label, c, 76));
        connect(c, &QComboBox::activated, this, [this, all, of](int k) {
            taking().options.*of = unit_of(all[k].toStdString());
            read_again();
        });
    };
    unit("Lengths without a unit are in", "table-length", lengths(), &ColumnTableOptions::length);
    unit("Forces without a unit are in", "table-force", forces(), &ColumnTableOptions::force);
    if (!now().columns.empty()) {
        auto* only = new QCheckBox("Loads only: places and sizes stay");
        only->setObjectName("table-loads-only");
        only->setChecked(taking().take.loads_only);
        box_->addWidget(only);
        connect(only, &QCheckBox::toggled, this, [this](bool on) { taking().take.loads_only = on, read_again(); });
    }
    if (!has_slab(now())) {
        auto* f = new Field("Clear rim round them", Unit::metre, "table-rim");
        f->set_range({-10, 100, false});
        f->show_value(taking().take.rim, false);
        box_->addWidget(f);
        connect(f, &Field::entered, this, [this](std::optional<double> v) {
            if (v) taking().take.rim = *v, read_again();
        });
    }
}

// Each column of the table, what it was taken for, of which case, in which unit; all of it can be changed.
void TablePage::heads_table() {
    QTableWidget* t = table({"in the table", "taken for", "case", "unit"}, "table-heads");
    t->verticalHeader()->setDefaultSectionSize(26);
    t->horizontalHeader()->setDefaultSectionSize(60);
    t->setColumnWidth(0, 92), t->setColumnWidth(1, 84), t->setColumnWidth(2, 58);
    for (int column : {0, 1, 2, 3}) t->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    t->horizontalHeader()->setStretchLastSection(true);
    const auto& heads = taking().table.heads.heads;
    std::vector<int> shown;
    for (int k = 0; k < int(heads.size()); ++k)
        if (!heads[size_t(k)].text.empty()) shown.push_back(k);
    t->setRowCount(int(shown.size()));
    filling_ = true;
    for (int r = 0; r < int(shown.size()); ++r) {
        const int k = shown[size_t(r)];
        const Head& h = heads[size_t(k)];
        cell(t, r, 0, q(h.text), false, false)->setToolTip(q(h.text));
        auto* holds = choice_of(holds_titles(), int(h.holds), QString("head-holds-%1").arg(k));
        t->setCellWidget(r, 1, holds);
        auto change = [this, k](const std::function<void(Head&)>& to) {
            taking().options.heads = taking().table.heads.heads;
            to(taking().options.heads[size_t(k)]);
            read_again();
        };
        connect(holds, &QComboBox::activated, this, [change](int to) {
            change([to](Head& head) {
                head.holds = Holds(to);
                if (head.unit && head.unit->of != dimension_of(head.holds)) head.unit.reset();
                if (!is_component(head.holds)) head.load_case.clear();
            });
        });
        cell(t, r, 2, q(h.load_case), is_component(h.holds) && !taking().table.is_long, false);
        const QStringList units = units_for(h.holds);
        if (units.isEmpty()) {
            cell(t, r, 3, "", false, false);
            continue;
        }
        QStringList titles{"–"};
        titles += units;
        int now = 0;
        if (h.unit)
            for (int u = 0; u < units.size(); ++u)
                if (const auto known = unit_of(units[u].toStdString());
                    known && std::abs(known->factor - h.unit->factor) < 1e-12)
                    now = u + 1;
        if (h.unit && now == 0) titles << q(h.unit->name), now = int(titles.size()) - 1;
        auto* unit = choice_of(titles, now, QString("head-unit-%1").arg(k));
        t->setCellWidget(r, 3, unit);
        connect(unit, &QComboBox::activated, this, [change, titles](int to) {
            change([&](Head& head) { head.unit = to == 0 ? std::nullopt : unit_of(titles[to].toStdString()); });
        });
    }
    filling_ = false;
    connect(t, &QTableWidget::cellChanged, this, [this, t, shown](int row, int column) {
        if (filling_ || column != 2) return;
        taking().options.heads = taking().table.heads.heads;
        taking().options.heads[size_t(shown[size_t(row)])].load_case =
            t->item(row, column)->text().trimmed().toStdString();
        read_again();
    });
    fit_height(t);
}

// What is taken by case, and what the table's own row of totals says.
void TablePage::sums_table() {
    const ColumnTable& table_read = taking().table;
    if (table_read.cases.empty()) return;
    QTableWidget* t = table({"case", "N kN", "its total", "Mx kN·m", "My kN·m"}, "table-sums");
    t->horizontalHeader()->setDefaultSectionSize(62);
    t->setColumnWidth(0, 52);
    t->horizontalHeader()->setStretchLastSection(true);
    t->setRowCount(int(table_read.cases.size()));
    for (int r = 0; r < int(table_read.cases.size()); ++r) {
        const std::string& id = table_read.cases[size_t(r)];
        const ColumnLoad sum = table_read.sum_of(id);
        cell(t, r, 0, q(id), false, false)->setToolTip(q(id));
        cell(t, r, 1, look::number(sum.N, 0), false);
        QTableWidgetItem* own = cell(t, r, 2, "–", false);
        for (const TableTotal& total : table_read.totals)
            if (total.component == Holds::N && total.load_case == id) {
                own->setText(look::number(total.in_table, 0));
                own->setForeground(total.agree() ? look::moss : look::rust);
                own->setToolTip(QString("the totals row in line %1").arg(total.line));
            }
        cell(t, r, 3, look::number(sum.Mx, 0), false);
        cell(t, r, 4, look::number(sum.My, 0), false);
    }
    fit_height(t);
}

std::string DrawingPage::key() const {
    const TakingDrawing& t = *desk_->taking_drawing;
    return "drawing " + t.file.toStdString() + " " + std::to_string(t.turn) + " " +
           std::to_string(desk_->document()->revision());
}

void DrawingPage::read_again() {
    taking().read_again(now());
    desk_->tell(Desk::view);
    QMetaObject::invokeMethod(
        desk_, [d = desk_] { Q_EMIT d->plan_came(); }, Qt::QueuedConnection);
}

void DrawingPage::build() {
    const TakingDrawing& t = taking();
    const DrawnPlan& p = t.plan;
    heading("A drawing", t.file);
    QStringList all;
    if (p.outline) all << "the outline";
    auto add = [&](size_t n, const char* one, const char* many) {
        if (n) all << counted(n, one, many);
    };
    add(p.openings.size(), "opening", "openings"), add(p.patches.size(), "patch", "patches");
    add(p.columns.size(), "column", "columns"), add(p.walls.size(), "wall", "walls"), add(p.ribs.size(), "rib", "ribs");
    add(p.piles.size(), "pile", "piles"), add(p.lines.size(), "line", "lines");
    add(p.ground.size(), "ground patch", "ground patches");
    words(all.isEmpty() ? "Nothing of it is understood." : "Understood: " + all.join(", ") + ".", "drawing-summary",
          all.isEmpty());
    const auto left = sentences_of(p.problems, Severity::error);
    if (!left.empty()) {
        words(QString("Not taken, %1:").arg(counted(left.size(), "reason", "reasons")), nullptr, true);
        box_->addWidget(sentences(left, "drawing-left-out", 7));
    }
    std::vector<Button> deeds;
    if (!p.none())
        deeds.push_back({"Take over", "take-drawing", [this] {
                             QMetaObject::invokeMethod(
                                 desk_, [d = desk_] { d->take_drawing_file(); }, Qt::QueuedConnection);
                         }});
    deeds.push_back({"Leave it", "leave-drawing", [this] {
                         QMetaObject::invokeMethod(
                             desk_, [d = desk_] { d->leave_taking(); }, Qt::QueuedConnection);
                     }});
    buttons(deeds);
    auto* keep = new QCheckBox("Keep it faint under the plan");
    keep->setObjectName("drawing-keep");
    keep->setChecked(t.keep_under);
    box_->addWidget(keep);
    connect(keep, &QCheckBox::toggled, this, [this](bool on) { taking().keep_under = on; });
    if (!t.taken.kept.empty())
        words(counted(t.taken.kept.size(), "thing stands", "things stand") +
              " at its place already and keeps its name and loads.");
    if (!t.taken.missing.empty()) {
        std::string list;
        for (const std::string& id : t.taken.missing) list += (list.empty() ? "" : ", ") + id;
        words("Not in the drawing, left as they are: " + q(list) + ".");
    }
    place();
    layers_table();
    const auto warnings = sentences_of(p.problems, Severity::warning);
    if (!warnings.empty()) {
        words("To know:");
        box_->addWidget(sentences(warnings, "drawing-warnings", 8));
    }
    box_->addStretch(1);
}

void DrawingPage::place() {
    QStringList titles = lengths();
    int now = -1;
    for (int k = 0; k < titles.size(); ++k)
        if (std::abs(unit_of(titles[k].toStdString())->factor - taking().plan.unit) < 1e-12) now = k;
    if (now < 0) titles << look::number(taking().plan.unit, 4) + " m", now = int(titles.size()) - 1;
    auto* unit = choice_of(titles, now, "drawing-unit");
    box_->addLayout(labelled("One unit of the drawing is 1", unit, 76));
    connect(unit, &QComboBox::activated, this, [this, titles](int k) {
        if (const auto u = unit_of(titles[k].toStdString())) taking().options.unit = u->factor, read_again();
    });
    auto origin = [this](const QString& label, const char* name, double Point::*of) {
        auto* f = new Field(label, Unit::metre, name);
        f->show_value(taking().plan.origin.*of, false);
        box_->addWidget(f);
        connect(f, &Field::entered, this, [this, of](std::optional<double> v) {
            if (!v) return;
            Point p = taking().plan.origin;
            p.*of = *v;
            taking().options.origin = p, read_again();
        });
    };
    origin("x of it that becomes 0", "drawing-x", &Point::x);
    origin("y of it that becomes 0", "drawing-y", &Point::y);
}

void DrawingPage::layers_table() {
    QTableWidget* t = table({"layer", "shapes", "taken for"}, "drawing-layers");
    t->verticalHeader()->setDefaultSectionSize(26);
    t->horizontalHeader()->setDefaultSectionSize(60);
    t->setColumnWidth(0, 112), t->setColumnWidth(1, 54);
    t->horizontalHeader()->setStretchLastSection(true);
    for (int column : {0, 2}) t->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    QStringList roles;
    for (int k = 0; k < n_layer_roles; ++k) roles << name_of(LayerRole(k));
    const auto& shapes = taking().plan.shapes;
    t->setRowCount(int(shapes.size()));
    int r = 0;
    for (const auto& [layer, n] : shapes) {
        const DrawnLayer* known = taking().drawing.layer(layer);
        cell(t, r, 0, q(layer), false, false)
            ->setToolTip(known && known->is_hidden() ? q(layer) + ": hidden in the drawing" : q(layer));
        cell(t, r, 1, QString::number(n), false);
        auto* role = choice_of(roles, int(taking().plan.layers.at(layer)), QString("layer-role-%1").arg(r));
        t->setCellWidget(r, 2, role);
        connect(role, &QComboBox::activated, this,
                [this, layer = layer](int k) { taking().options.layers[layer] = LayerRole(k), read_again(); });
        ++r;
    }
    fit_height(t);
}

}  // namespace mossbed
