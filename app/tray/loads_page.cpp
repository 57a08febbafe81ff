#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/model/edit.h"

namespace mossbed {

std::string LoadsPage::key() const {
    std::string k = "loads";
    for (const LoadCase& c : now().loads.cases) k += " " + c.id;
    return k + " | " + desk_->load_case;
}

void LoadsPage::build() {
    heading("Load cases", "kN, kN·m");
    cases_table();
    words("Mx and My about the plan's origin (0, 0).");
    choice(path("loads/cases", desk_->load_case, "action"),
           {.name = "case-action", .deed = "Set the action of a case"});
    slab_load();
    buttons({{"Add a case", "add-case", [this] { add_case(); }},
             {"Delete this case", "delete-case", [this] { delete_case(); }}});
    heading("Combinations", "a row each, factors in the cells");
    combinations_table();
    live(
        [this] {
            const bool any = answer() && std::any_of(answer()->combinations.begin(), answer()->combinations.end(),
                                                     [](const CombinationAnswer& c) { return c.yield_ratio > 0; });
            return any ? QString("y: in part of the base the ground yields; Contact says in how much.") : QString();
        },
        "yield-words");
    buttons({{"Add a row", "add-combination", [this] { add_combination(); }},
             {"Delete this row", "delete-combination", [this] { delete_combination(); }}});
    box_->addStretch(1);
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
        const CaseTotal* total = nullptr;
        if (answer())
            for (const CaseTotal& k : answer()->cases)
                if (k.id == c.id) total = &k;
        cell(cases_, i, 2, total ? look::number(total->on_slab.Fz, 0) : "", false);
        cell(cases_, i, 3, total ? look::number(total->on_slab.Mx, 0) : "", false);
        cell(cases_, i, 4, total ? look::number(total->on_slab.My, 0) : "", false);
        if (c.id == desk_->load_case) cases_->selectRow(i);
    }
    fit_height(cases_);
}

void LoadsPage::slab_load() {
    number(
        "Load on the whole slab", Unit::kilopascal, "slab-load", "Load the whole slab",
        [id = desk_->load_case](const Model& m) {
            double p = 0;
            if (const LoadCase* c = find_id(m.loads.cases, id))
                for (const LoadItem& i : c->items)
                    if (auto* l = std::get_if<SlabLoad>(&i.load)) p += l->p;
            return std::optional(p);
        },
        [id = desk_->load_case](Model& m, double v) {
            LoadCase* c = find_id(m.loads.cases, id);
            if (!c) return;
            std::erase_if(c->items, [](const LoadItem& i) { return std::holds_alternative<SlabLoad>(i.load); });
            if (v != 0) c->items.push_back({SlabLoad{v}, {}});
        },
        {-1e4, 1e4});
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
    edit("Delete case " + q(id), [&](Model& m) {
        std::erase_if(m.loads.cases, [&](const LoadCase& c) { return c.id == id; });
        if (m.loads.combinations)
            for (Combination& k : *m.loads.combinations) k.factors.erase(id);
    });
}

void LoadsPage::combinations_table() {
    QStringList heads{"", "for"};
    for (const LoadCase& c : now().loads.cases) heads << q(c.id);
    heads << "kPa"
          << "%";
    combinations_ = table(heads, "combinations");
    combinations_->setProperty("path", "loads/combinations");
    for (int c = 0; c < heads.size(); ++c)
        combinations_->horizontalHeader()->setSectionResizeMode(c, QHeaderView::ResizeToContents);
    combinations_->horizontalHeader()->setMinimumSectionSize(22);
    refreshers_.push_back([this] { fill_combinations(); });
    connect(combinations_, &QTableWidget::cellClicked, this, [this](int r, int) {
        const auto& all = now().loads.combinations;
        if (all && r < int(all->size())) desk_->choose_combination((*all)[size_t(r)].id);
    });
    connect(combinations_, &QTableWidget::cellChanged, this, [this](int r, int c) { take_combination(r, c); });
}

void LoadsPage::fill_combinations() {
    QTableWidget* t = combinations_;
    const Model& m = now();
    const std::vector<Combination> all = m.loads.combinations.value_or(std::vector<Combination>{});
    t->setRowCount(int(all.size()));
    const int n = int(m.loads.cases.size());
    for (int r = 0; r < int(all.size()); ++r) {
        const Combination& k = all[size_t(r)];
        QTableWidgetItem* id = cell(t, r, 0, q(k.id), true, false);
        id->setFont(look::font(look::Size::small, k.id == desk_->combination_id));
        id->setToolTip(q(k.title));
        cell(t, r, 1, name_of(k.purpose), true, false);
        for (int c = 0; c < n; ++c) {
            const auto it = k.factors.find(m.loads.cases[size_t(c)].id);
            cell(t, r, 2 + c, it == k.factors.end() || it->second == 0 ? "" : plain(it->second), true);
        }
        const CombinationAnswer* a = answer() ? answer()->find(k.id) : nullptr;
        cell(t, r, 2 + n,
             a && a->is_solved() ? look::number(a->max_pressure, 0) + (a->yield_ratio > 0 ? " y" : "")
             : a                 ? QString::fromUtf8(name_of(a->ending))
                                 : "",
             false);
        cell(t, r, 3 + n, a && a->is_solved() ? look::number(100 * a->contact_ratio, 0) : "", false);
    }
    fit_height(t);
}

void LoadsPage::take_combination(int r, int column) {
    const auto& all = now().loads.combinations;
    if (filling_ || !all || r >= int(all->size())) return;
    const std::string id = (*all)[size_t(r)].id, text = combinations_->item(r, column)->text().trimmed().toStdString();
    const int n_cases = int(now().loads.cases.size());
    auto change = [&](const QString& deed, auto f) {
        edit(deed, [&](Model& m) { f((*m.loads.combinations)[size_t(r)]); });
    };
    if (column == 0) {
        if (text == id) return;
        if (text.empty() || find_id(*all, text)) return refuse("A combination needs a name of its own.");
        change("Name a combination", [&](Combination& k) { k.id = text; });
    } else if (column == 1) {
        const auto purpose = from_word<Purpose>(text);
        if (!purpose) return refuse("A combination is for service, strength, stability or trace.");
        change("Set the purpose of a combination", [&](Combination& k) { k.purpose = *purpose; });
    } else if (column < 2 + n_cases) {
        QString why;
        const auto v = text.empty() ? std::optional(0.0) : read_number(q(text), Unit::none, &why);
        if (!v) return refuse("The factor is not taken: " + why + ".");
        const std::string load_case = now().loads.cases[size_t(column - 2)].id;
        change("Set a factor of " + q(id), [&](Combination& k) {
            if (*v == 0)
                k.factors.erase(load_case);
            else
                k.factors[load_case] = *v;
        });
    }
}

void LoadsPage::add_combination() {
    std::vector<std::string> taken;
    Combination c;
    if (const auto& all = now().loads.combinations) {
        for (const Combination& k : *all) taken.push_back(k.id);
        if (const Combination* k = find_id(*all, desk_->combination_id)) c = *k;  // begins as the one looked at
    }
    c.id = fresh_id(c.purpose == Purpose::strength ? "U" : c.purpose == Purpose::stability ? "T" : "S", taken);
    edit("Add combination " + q(c.id), [&](Model& m) {
        if (!m.loads.combinations) m.loads.combinations.emplace();
        m.loads.combinations->push_back(c);
    });
}

void LoadsPage::delete_combination() {
    const std::string id = desk_->combination_id;
    if (!now().loads.combinations) return;
    edit("Delete combination " + q(id),
         [&](Model& m) { std::erase_if(*m.loads.combinations, [&](const Combination& c) { return c.id == id; }); });
}

}  // namespace mossbed
