// One load, or several edited together: their case, where they lie, their numbers.
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>

#include "app/tray/pages.h"
#include "app/tray/parts.h"
#include "core/model/edit.h"
#include "core/model/load_values.h"

namespace mossbed {

std::string LoadItemPage::key() const {
    std::string k = "load";
    for (const Thing& t : things_) {
        k += " " + t.id;
        const LoadItem* i = find_load(now(), t);
        if (!i) continue;
        k += std::string(" ") + sort_of_load(*i);
        for (const LoadValue& v : values_of_load(*i)) k += std::string(" ") + v.key;
    }
    return k;
}

void LoadItemPage::build() {
    const LoadItem* first = find_load(now(), *things_.begin());
    if (!first) return;
    heading(things_.size() == 1 ? "Load " + q(things_.begin()->id) : QString("%1 loads").arg(things_.size()),
            things_.size() == 1 ? q(sort_of_load(*first)) + " load" : QString());
    case_of_them();
    if (things_.size() == 1) {
        live(
            [this] {
                const LoadItem* i = find_load(now(), *things_.begin());
                return i ? "On " + q(place_of_load_in_words(*i)).toHtmlEscaped() : QString();
            },
            "load-place", 1);
    }
    // Numbers that all of them have.
    for (const LoadValue& v : values_of_load(*first)) {
        auto of = [key = std::string(v.key)](const LoadItem& i) -> std::optional<LoadValue> {
            for (const LoadValue& own : values_of_load(i))
                if (key == own.key) return own;
            return {};
        };
        const bool all = std::all_of(things_.begin(), things_.end(), [&](const Thing& t) {
            const LoadItem* i = find_load(now(), t);
            return i && of(*i);
        });
        if (!all) continue;
        number(
            q(v.label), v.unit, "load-" + q(v.key), "Set " + q(v.key) + " of " + words_of(things_),
            [this, of](const Model& m) -> std::optional<double> {
                std::optional<double> common;
                for (const Thing& t : things_) {
                    const LoadItem* i = find_load(m, t);
                    if (!i || !of(*i)) continue;
                    const double here = of(*i)->get(*i);
                    if (common && *common != here) return {};  // several
                    common = here;
                }
                return common;
            },
            [this, of](Model& m, double to) {
                for (const Thing& t : things_)
                    if (LoadItem* i = find_load(m, t))
                        if (const auto own = of(*i)) own->set(*i, to);
            },
            {-1e6, 1e6});
    }
    live(
        [this] {
            double sum = 0;
            for (const Thing& t : things_)
                if (const LoadItem* i = find_load(now(), t)) sum += force_of_load(now(), *i);
            return QString("Down %1%2").arg(look::with_unit(sum, "kN"), things_.size() > 1 ? " together" : "");
        },
        "load-sum", 1);
    const auto* area = std::get_if<AreaLoad>(&first->load);
    const auto* slab = std::get_if<SlabLoad>(&first->load);
    if (area || slab) {
        const bool is_fill = area ? bool(area->fill) : bool(slab->fill);
        button(is_fill ? "As a pressure" : "As depth × unit weight", "load-fill", [this, is_fill] {
            edit("Write loads as " + QString(is_fill ? "pressures" : "depth × unit weight"), [&](Model& m) {
                for (const Thing& t : things_)
                    if (LoadItem* i = find_load(m, t)) fill_instead(*i, !is_fill, 18);
            });
        });
    }
    arranging(things_);
    box_->addStretch(1);
}

void LoadItemPage::case_of_them() {
    auto* row = new QHBoxLayout;
    auto* words = new QLabel("In case");
    auto* c = new QComboBox;
    c->setObjectName("load-case");
    for (const LoadCase& k : now().loads.cases) c->addItem(q(k.id) + (k.title.empty() ? "" : "  " + q(k.title)));
    row->addWidget(words, 1), row->addWidget(c, 1);
    box_->addLayout(row);
    refreshers_.push_back([this, c] {
        const std::string id = place_of_load(*things_.begin()).first;
        for (size_t i = 0; i < now().loads.cases.size(); ++i)
            if (now().loads.cases[i].id == id) c->setCurrentIndex(int(i));
    });
    connect(c, &QComboBox::activated, this, [this](int to) {
        Model m = now();
        Things moved;
        LoadCase& into = m.loads.cases[size_t(to)];
        std::vector<LoadItem> items;
        for (const Thing& t : things_)
            if (const LoadItem* i = find_load(now(), t); i && place_of_load(t).first != into.id) items.push_back(*i);
        if (items.empty()) return;
        Things gone = things_;
        std::erase_if(gone, [&](const Thing& t) { return place_of_load(t).first == into.id; });
        m = without(std::move(m), gone);
        for (LoadItem& i : items) {
            LoadCase& c = m.loads.cases[size_t(to)];
            c.items.push_back(std::move(i));
            moved.insert(load_thing(c.id, c.items.size() - 1));
        }
        desk_->load_case = m.loads.cases[size_t(to)].id;
        Desk* desk = desk_;
        desk->document()->apply("Move " + words_of(things_) + " to another case", std::move(m));
        QMetaObject::invokeMethod(
            desk, [desk, moved] { desk->choose(moved); }, Qt::QueuedConnection);
    });
}

}  // namespace mossbed
