#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/model/edit.h"

namespace mossbed {

std::string ColumnsPage::key() const {
    std::string k = "columns";
    for (const std::string& id : ids_) k += " " + id;
    for (const LoadCase& c : now().loads.cases) k += " | " + c.id;
    for (const Thing& t : desk_->chosen)
        if (t.kind != ThingKind::column) k += " " + std::to_string(int(t.kind)) + t.id;
    return k;
}

std::vector<std::string> ColumnsPage::paths(const std::string& key) const {
    std::vector<std::string> all;
    for (const std::string& id : ids_) all.push_back(path("columns", id, key));
    return all;
}

void ColumnsPage::build() {
    const bool one = ids_.size() == 1;
    const QString first = q(*ids_.begin());
    heading(one ? "Column " + first : QString("%1 columns").arg(ids_.size()), one ? "" : "edited together");
    if (one) {
        name_of_one({ThingKind::column, *ids_.begin()});
        field(paths("at/x"), {.name = "column-x", .deed = "Move column " + first});
        field(paths("at/y"), {.name = "column-y", .deed = "Move column " + first});
    }
    choice(paths("shape"), {.name = "column-shape"}, {}, [ids = ids_](Model& m) {
        for (Column& c : m.columns)
            if (ids.count(c.id)) c.size.resize(c.round() ? 1 : 2, c.size[0]);
    });
    field(paths("size/0"),
          {.name = "column-size-x", .label = "Size along x, or diameter", .deed = "Set the footprint"});
    field(paths("size/1"), {.name = "column-size-y", .label = "Size along y", .deed = "Set the footprint"});
    field(paths("angle"), {.name = "column-angle", .deed = "Turn the column"});
    field(paths("pedestal_height"), {.name = "column-pedestal", .deed = "Set the pedestal"});
    field(paths("starter_bars/diameter"), {.name = "column-starters", .deed = "Set the starter bars"});
    field(paths("starter_bars/number"), {.name = "column-starter-number", .deed = "Set the starter bars"});
    links_of(paths("links"));
    loads_table();
    arranging(desk_->chosen);  // with what else is chosen
    box_->addStretch(1);
}

void Page::links_of(const std::vector<std::string>& columns) {
    auto line = [&](const char* key, const char* name) {
        std::vector<std::string> all;
        for (const std::string& c : columns) all.push_back(c + "/" + key);
        field(all, {.name = name, .deed = "Set the links"});
    };
    line("diameter", "column-links"), line("legs", "column-link-legs"), line("perimeters", "column-link-perimeters");
    line("spacing", "column-link-spacing"), line("first", "column-link-first");
}

void ColumnsPage::loads_table() {
    heading(ids_.size() == 1 ? "Loads" : "Loads of each", "kN, kN·m");
    loads_ = table({"case", "N", "Mx", "My", "Hx", "Hy"}, "column-loads");
    for (int c = 0; c < 6; ++c) loads_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::Stretch);
    refreshers_.push_back([this] { fill_loads(); });
    connect(loads_, &QTableWidget::cellChanged, this, [this](int r, int c) { take_load(r, c); });
    words(
        "N presses down; moments turn about +x and +y by the right-hand rule; H acts at the top of the pedestal or "
        "slab.");
    if (ids_.size() > 1) return;
    result([this] { return punching(); }, "column-punching");
    button("Working of its punching", "column-working", [this] {
        for (const Row& r : desk_->rows())
            if (r.id == "punching" && r.item == *ids_.begin()) return Q_EMIT working_wanted(r.key());
        desk_->say("There is no punching check of this column yet.");
    });
}

namespace {
constexpr std::array components{&ColumnLoad::N, &ColumnLoad::Mx, &ColumnLoad::My, &ColumnLoad::Hx, &ColumnLoad::Hy};
}

// What all have stands there; where they differ a cell says so, and what is typed sets all.
void ColumnsPage::fill_loads() {
    const auto& cases = now().loads.cases;
    loads_->setRowCount(int(cases.size()));
    for (int r = 0; r < int(cases.size()); ++r) {
        const LoadCase& of_case = cases[size_t(r)];
        std::map<std::string, ColumnLoad> sums;
        for (const LoadItem& i : of_case.items)
            if (auto* l = std::get_if<ColumnLoad>(&i.load); l && ids_.count(l->column))
                for (double ColumnLoad::*c : components) sums[l->column].*c += l->*c;
        cell(loads_, r, 0, q(of_case.id), false, false)->setToolTip(q(of_case.title));
        for (int c = 0; c < int(components.size()); ++c) {
            std::set<double> values;
            for (const std::string& id : ids_) values.insert(sums[id].*components[size_t(c)]);
            QTableWidgetItem* at = cell(loads_, r, c + 1, values.size() > 1 ? "several" : plain(*values.begin()), true);
            at->setForeground(values.size() > 1 ? look::standard : look::ink);
        }
    }
    fit_height(loads_);
}

void ColumnsPage::take_load(int r, int column) {
    if (filling_ || column == 0 || r >= int(now().loads.cases.size())) return;
    const bool moment = column == 2 || column == 3;
    const QString text = loads_->item(r, column)->text().trimmed();
    if (text == "several") return refresh();
    QString why;
    const auto v = text.isEmpty() ? std::optional(0.0)
                                  : read_number(text, moment ? Unit::kilonewton_metre : Unit::kilonewton, &why);
    if (!v) return refuse("The load is not taken: " + why + ".");
    edit(ids_.size() == 1 ? "Load column " + q(*ids_.begin()) : QString("Load %1 columns").arg(ids_.size()),
         [&](Model& m) {
             for (const std::string& id : ids_)
                 set_column_load(m, m.loads.cases[size_t(r)].id, id, components[size_t(column - 1)], *v);
         });
}

QString ColumnsPage::punching() const {
    for (const Row& r : desk_->rows())
        if (r.id == "punching" && r.item == *ids_.begin()) {
            const QString text = r.utilisation
                                     ? bold("Punching " + look::number(*r.utilisation, 2)) + " · " + q(r.combination)
                                     : bold("Punching not checked") + " · " + q(r.note);
            return desk_->is_behind(r) ? faded(text) : text;
        }
    return {};
}

}  // namespace mossbed
