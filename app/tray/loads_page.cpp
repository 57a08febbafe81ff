#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

#include "app/small_maps.h"
#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/codes/combination_edits.h"
#include "core/model/edit.h"

namespace mossbed {

std::string LoadsPage::key() const {
    std::string k = "loads";
    for (const LoadCase& c : now().loads.cases) k += " " + c.id;
    k += " | " + desk_->load_case;
    const LoadCase* c = load_case();
    if (!c) return k;
    k += std::string(" ") + name_of(c->action);
    for (const LoadItem& i : c->items)
        if (const auto* l = std::get_if<SlabLoad>(&i.load); l && l->fill) k += " fill";
    return k;
}

const LoadCase* LoadsPage::load_case() const { return find_id(now().loads.cases, desk_->load_case); }

void LoadsPage::build() {
    heading("Load cases", "kN, kN·m about (0, 0)");
    cases_table();
    live([this] { return weight(); }, "weight-words", 1);
    case_in_hand();
    heading("Combinations", count_of(desk_->combinations().size(), "row"));
    buttons({{"Table of combinations", "open-combinations", [this] { Q_EMIT combinations_wanted(); }}});
    live(
        [this] {
            const bool any = answer() && std::any_of(answer()->combinations.begin(), answer()->combinations.end(),
                                                     [](const CombinationAnswer& c) { return c.yield_ratio > 0; });
            return any ? QString("In some the ground yields in part of the base; Contact says in how much.")
                       : QString();
        },
        "yield-words");
    box_->addStretch(1);
}

QString LoadsPage::weight() const {
    if (!now().slab.self_weight) return "Self-weight is switched off.";
    const LoadCase* carries = nullptr;
    int n = 0;
    for (const LoadCase& c : now().loads.cases)
        if (c.action == Action::permanent && n++ == 0) carries = &c;
    if (!carries) return bold("No permanent case carries the slab's weight.");
    QString text = QString("Self-weight stands in %1").arg(q(carries->id));
    if (n > 1) text += " alone, the first permanent case";
    if (answer())
        for (const CaseTotal& k : answer()->cases)
            if (k.id == carries->id) text += ": " + look::with_unit(k.self_weight, "kN") + " of its Fz";
    return text + ".";
}

void LoadsPage::cases_table() {
    cases_ = table({"case", "", "Fz", "Mx", "My"}, "cases");
    cases_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    for (int c : {0, 2, 3, 4}) cases_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    cases_->setProperty("path", "loads/cases");
    cases_->setSelectionBehavior(QAbstractItemView::SelectRows);
    refreshers_.push_back([this] { fill_cases(); });
    connect(cases_, &QTableWidget::cellClicked, this, [this](int row, int) {
        if (row >= int(now().loads.cases.size())) return;
        const std::string id = now().loads.cases[size_t(row)].id;
        if (id == desk_->load_case) return;
        QMetaObject::invokeMethod(  // this page gives way to the one of the case
            desk_,
            [d = desk_, id] {
                d->load_case = id;
                d->tell(Desk::view);
            },
            Qt::QueuedConnection);
    });
    connect(cases_, &QTableWidget::cellChanged, this, [this](int row, int column) {
        if (filling_ || row >= int(now().loads.cases.size())) return;
        if (column == 0) {
            const std::string from = now().loads.cases[size_t(row)].id,
                              to = cases_->item(row, 0)->text().trimmed().toStdString();
            Model m = now();
            const std::string why = rename_case(m, from, to);
            if (!why.empty()) return refuse("The case keeps its name: " + q(why) + ".");
            if (desk_->load_case == from) desk_->load_case = to;
            return desk_->document()->apply(QString("Rename case %1").arg(q(from)), std::move(m));
        }
        if (column != 1) return;
        edit("Name a case",
             [&](Model& m) { m.loads.cases[size_t(row)].title = cases_->item(row, 1)->text().toStdString(); });
    });
}

void LoadsPage::fill_cases() {
    const auto& cases = now().loads.cases;
    cases_->setRowCount(int(cases.size()));
    for (int i = 0; i < int(cases.size()); ++i) {
        const LoadCase& c = cases[size_t(i)];
        cell(cases_, i, 0, q(c.id), true, false);
        cell(cases_, i, 1, q(c.title), true, false);
        const CaseTotal* total = answer() ? find_id(answer()->cases, c.id) : nullptr;
        cell(cases_, i, 2, total ? look::number(total->on_slab.Fz, 0) : "", false);
        cell(cases_, i, 3, total ? look::number(total->on_slab.Mx, 0) : "", false);
        cell(cases_, i, 4, total ? look::number(total->on_slab.My, 0) : "", false);
        if (c.id == desk_->load_case) cases_->selectRow(i);
    }
    fit_height(cases_);
}

QString LoadsPage::resultant() const {
    const CaseTotal* t = answer() ? find_id(answer()->cases, desk_->load_case) : nullptr;
    if (!t) return {};
    const Point c = centre_of_base(*answer());
    const Resultant at = t->on_slab.about(c);
    QString rows = "<table cellspacing='0' cellpadding='1'>";
    auto line = [&rows](const QString& name, const QString& value) {
        rows += "<tr><td style='padding-right:12px'>" + name + "</td><td align='right'>" + value + "</td></tr>";
    };
    if (std::abs(t->on_slab.Fz) > 1e-6) {
        const Point p = t->on_slab.landing();
        line(q(t->id) + " lands at", QString("%1, %2 m").arg(look::number(p.x, 2), look::number(p.y, 2)));
    }
    line(QString("Mx, My about the middle, %1, %2 m").arg(look::number(c.x, 2), look::number(c.y, 2)),
         look::number(at.Mx, 0) + ", " + look::number(at.My, 0));
    if (t->Hx != 0 || t->Hy != 0) line("Hx, Hy", look::number(t->Hx, 0) + ", " + look::number(t->Hy, 0));
    if (t->uplift > 0) line("water up, of it", look::number(t->uplift, 0));
    return rows + "</table>";
}

void LoadsPage::case_in_hand() {
    result([this] { return resultant(); }, "case-resultant", 2);
    const LoadCase* c = load_case();
    if (!c) return add_buttons();
    const std::string own = path("loads/cases", c->id);
    choice(own + "/action", {.name = "case-action", .deed = "Set the action of a case"});
    if (c->action == Action::imposed)
        choice(own + "/category", {.name = "case-category", .label = "Category", .deed = "Set the category of a case"},
               {"A  domestic", "B  offices", "C  congregation", "D  shopping", "E  storage", "F  vehicles to 30 kN",
                "G  vehicles to 160 kN", "H  roofs"});
    tick(own + "/reversible", {.name = "case-reversible", .deed = "Reverse a case or not"});
    group_of_case();
    if (c->action == Action::seismic) direction_of_case();
    if (c->action == Action::groundwater || uplift_level(now(), c->id))
        number(
            "Water up to level", Unit::metre, "uplift-level", "Set the level of the water",
            [id = c->id](const Model& m) { return uplift_level(m, id); },
            [id = c->id](Model& m, double v) { set_uplift_level(m, id, v); }, {-1e4, 1e4});
    slab_load();
    fill_load();
    amounts_row({{"All loads of the case ×", Unit::none, "case-factor", -1000, 1000, [this] { return factor_; },
                  [this](double v) { factor_ = v; }}},
                {{"Scale", "scale-case", [this] {
                      const std::string id = desk_->load_case;
                      edit(QString("Scale case %1 by %2").arg(q(id), look::number(factor_, 3)),
                           [&](Model& m) { scale_case(m, id, factor_); });
                  }}});
    add_buttons();
}

void LoadsPage::add_buttons() {
    buttons({{"Add a case", "add-case", [this] { add_case(); }},
             {"Copy it", "copy-case",
              [this] {
                  Model m = now();
                  const std::string id = copy_case(m, desk_->load_case);
                  if (id.empty()) return;
                  const QString deed = "Copy case " + q(desk_->load_case);
                  desk_->load_case = id;
                  desk_->document()->apply(deed, std::move(m));
              }},
             {"Delete it", "delete-case", [this] { delete_case(); }}});
    buttons({{"Up", "case-up", [this] { move(-1); }}, {"Down", "case-down", [this] { move(1); }}});
}

void LoadsPage::move(int by) {
    Model m = now();
    if (move_case(m, desk_->load_case, by)) desk_->document()->apply("Order the cases", std::move(m));
}

namespace {
QComboBox* beside(QVBoxLayout* box, const QString& label, const QString& name) {
    auto* row = new QHBoxLayout;
    auto* words = new QLabel(label);
    auto* c = new QComboBox;
    c->setObjectName(name);
    words->setBuddy(c);
    row->addWidget(words, 1);
    row->addWidget(c, 1);
    box->addLayout(row);
    return c;
}
}  // namespace

// Cases of one group never act together; a new name makes a new group.
void LoadsPage::group_of_case() {
    QComboBox* c = beside(box_, "Never with others of the group", "case-group");
    c->setEditable(true);
    c->setInsertPolicy(QComboBox::NoInsert);
    c->lineEdit()->setPlaceholderText("of no group");
    refreshers_.push_back([this, c] {
        const LoadCase* k = load_case();
        if (!k || c->lineEdit()->isModified()) return;
        QStringList all{""};
        for (const LoadCase& other : now().loads.cases)
            if (!other.group.empty() && !all.contains(q(other.group))) all << q(other.group);
        c->clear();
        c->addItems(all);
        c->setCurrentText(q(k->group));
    });
    auto take = [this, c, id = desk_->load_case] {
        const std::string group = c->currentText().trimmed().toStdString();
        c->lineEdit()->setModified(false);
        const LoadCase* k = find_id(now().loads.cases, id);
        if (!k || k->group == group) return;
        edit("Set the group of a case", [&](Model& m) { find_id(m.loads.cases, id)->group = group; });
    };
    connect(c, &QComboBox::activated, this, take);
    connect(c->lineEdit(), &QLineEdit::editingFinished, this, take);
}

void LoadsPage::direction_of_case() {
    QComboBox* c = beside(box_, "Acts along", "case-direction");
    c->addItems({"no direction: alone", "x, with 30 % of y", "y, with 30 % of x"});
    refreshers_.push_back([this, c] {
        if (const LoadCase* k = load_case()) c->setCurrentIndex(k->direction ? 1 + int(*k->direction) : 0);
    });
    connect(c, &QComboBox::activated, this, [this, id = desk_->load_case](int i) {
        edit("Set the direction of an earthquake", [&](Model& m) {
            find_id(m.loads.cases, id)->direction =
                i == 0 ? std::nullopt : std::optional(i == 1 ? Direction::x : Direction::y);
        });
    });
}

void LoadsPage::slab_load() {
    number(
        "Load on the whole slab", Unit::kilopascal, "slab-load", "Load the whole slab",
        [id = desk_->load_case](const Model& m) {
            double p = 0;
            if (const LoadCase* c = find_id(m.loads.cases, id))
                for (const LoadItem& i : c->items)
                    if (auto* l = std::get_if<SlabLoad>(&i.load); l && !l->fill) p += l->p;
            return std::optional(p);
        },
        [id = desk_->load_case](Model& m, double v) {
            LoadCase* c = find_id(m.loads.cases, id);
            if (!c) return;
            std::erase_if(c->items, [](const LoadItem& i) {
                const auto* l = std::get_if<SlabLoad>(&i.load);
                return l && !l->fill;
            });
            if (v != 0) c->items.push_back({SlabLoad{v, {}}, {}});
        },
        {-1e4, 1e4});
}

// Soil above the slab, or a fluid on it: depth × unit weight over the whole slab.
void LoadsPage::fill_load() {
    auto fill_of = [id = desk_->load_case](const Model& m) -> const FillDepth* {
        if (const LoadCase* c = find_id(m.loads.cases, id))
            for (const LoadItem& i : c->items)
                if (auto* l = std::get_if<SlabLoad>(&i.load); l && l->fill) return &*l->fill;
        return nullptr;
    };
    auto put = [id = desk_->load_case](Model& m, double FillDepth::*part, double v) {
        LoadCase* c = find_id(m.loads.cases, id);
        if (!c) return;
        for (LoadItem& i : c->items)
            if (auto* l = std::get_if<SlabLoad>(&i.load); l && l->fill) {
                (*l->fill).*part = v;
                if (l->fill->depth != 0) return;
                c->items.erase(c->items.begin() + (&i - c->items.data()));
                return;
            }
        FillDepth f{0, c->action == Action::fluid ? 9.81 : 18};
        f.*part = v;
        if (f.depth != 0) c->items.push_back({SlabLoad{0, f}, {}});
    };
    number(
        load_case()->action == Action::fluid ? "Fluid on the slab, depth" : "Soil on the slab, depth", Unit::metre,
        "fill-depth", "Fill on the slab",
        [fill_of](const Model& m) { return std::optional(fill_of(m) ? fill_of(m)->depth : 0.0); },
        [put](Model& m, double v) { put(m, &FillDepth::depth, v); }, {0, 100});
    if (fill_of(now()))
        number(
            "Its unit weight", Unit::kilonewton_per_cubic_metre, "fill-weight", "Weigh the fill on the slab",
            [fill_of](const Model& m) { return fill_of(m) ? std::optional(fill_of(m)->unit_weight) : std::nullopt; },
            [put](Model& m, double v) { put(m, &FillDepth::unit_weight, v); }, {0, 100});
}

void LoadsPage::add_case() {
    std::vector<std::string> taken;
    for (const LoadCase& c : now().loads.cases) taken.push_back(c.id);
    LoadCase c;
    c.id = fresh_id("L", taken), c.title = "New case", c.action = Action::imposed;
    desk_->load_case = c.id;
    edit("Add a case", [&](Model& m) { m.loads.cases.push_back(c); });
}

void LoadsPage::delete_case() {
    const std::string id = desk_->load_case;
    edit("Delete case " + q(id), [&](Model& m) { drop_case(m, id); });
}

std::string CombinationPage::key() const {
    return "combination " + (desk_->envelope() ? desk_->name_of_view().toStdString() : desk_->combination_id);
}

void CombinationPage::build() {
    in_hand();
    box_->addWidget(small_maps(desk_));
    heading("Rules");
    rules();
    box_->addStretch(1);
}

void CombinationPage::in_hand() {
    const Combination* c = desk_->envelope() ? nullptr : find_id(desk_->combinations(), desk_->combination_id);
    result([this] { return facts_of_view(*desk_); }, "combination-facts");
    if (!c) return;
    live(
        [this, id = c->id] {
            const Combination* k = find_id(desk_->combinations(), id);
            return k && k->generated_by ? q(*k->generated_by).toHtmlEscaped() : QString("Made by hand.");
        },
        "combination-rule", 1);
    QComboBox* purpose = beside(box_, "It is for", "combination-purpose");
    for (const char* w : Words<Purpose>::all) purpose->addItem(w);
    refreshers_.push_back([this, purpose, id = c->id] {
        if (const Combination* k = find_id(desk_->combinations(), id)) purpose->setCurrentIndex(int(k->purpose));
    });
    connect(purpose, &QComboBox::activated, this, [this, id = c->id](int i) {
        edit("Set the purpose of " + q(id), [&](Model& m) { set_purpose(m, id, Purpose(i)); });
    });
}

void CombinationPage::rules() {
    QComboBox* by = beside(box_, "Written by", "combination-rules");
    by->setProperty("path", "loads/combinations");
    QStringList names;
    for (const std::string& n : names_of_rules()) names << q(n);
    by->addItems(names);
    refreshers_.push_back(
        [this, by, names] { by->setCurrentIndex(int(names.indexOf(q(now().settings.combination_rules)))); });
    connect(by, &QComboBox::activated, this, [this, names](int i) {
        edit("Combine by " + names[i], [&](Model& m) {
            // Numbers of one's own belong to the standard that they were changed in.
            if (rule_file_of(m.settings.combination_rules) != rule_file_of(names[i].toStdString()))
                m.loads.rules.clear();
            m.settings.combination_rules = names[i].toStdString();
            m.settings.keys["combination_rules"] = "";
        });
    });
    live([this] { return counted(); }, "combination-words", 1);
    buttons({{"Write by the rules", "write-by-rule", [this] {
                  Model m = now();
                  write_combinations_by_rule(m);
                  if (m == now()) return desk_->say("All rows of the rules are there already.");
                  desk_->document()->apply("Write the combinations by rule", std::move(m));
              }}});
    words(
        "A row that a factor is typed into is made by hand from then on; the rules leave it alone. The numbers of the "
        "rules stand with their clauses in the table Rules; a changed one is kept in this model.");
}

QString CombinationPage::counted() const {
    int by_rule = 0, by_hand = 0, off = 0;
    for (const Combination& c : desk_->combinations()) ++(c.generated_by ? by_rule : by_hand), off += !c.active;
    QString text = QString("%1 rows by rule, %2 by hand").arg(by_rule).arg(by_hand);
    if (off) text += QString(", %1 switched off").arg(off);
    if (!now().loads.rules.empty()) text += "; by the rules kept in this model";
    return text + ".";
}

}  // namespace mossbed
