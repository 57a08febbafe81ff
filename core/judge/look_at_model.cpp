// Slips that no number shows.
#include <fmt/format.h>

#include <algorithm>

#include "core/judge/checks.h"

namespace mossbed {
namespace {

class Slips {
  public:
    explicit Slips(const Fields& f) : f_(f), m_(*f.model) {}
    std::vector<Row> all() {
        warnings();
        self_weight();
        combinations();
        cases();
        columns();
        ribs();
        return std::move(rows_);
    }

  private:
    void slip(std::string item, std::string title, std::string note, std::string leads_to,
              std::optional<Point> at = {}) {
        Row row;
        row.id = "model", row.item = std::move(item), row.title = std::move(title), row.note = std::move(note);
        row.leads_to = std::move(leads_to), row.at = at;
        rows_.push_back(std::move(row));
    }
    void warnings() {
        int n = 0;
        for (const Problem& p : f_.problems)
            if (p.severity == Severity::warning)
                slip(fmt::format("note {} {}", ++n, p.where), "Look again: " + p.where, p.sentence(), "", p.at);
    }
    void self_weight() {
        const bool permanent = std::any_of(m_.loads.cases.begin(), m_.loads.cases.end(),
                                           [](const LoadCase& c) { return c.action == Action::permanent; });
        if (!m_.slab.self_weight)
            slip("self-weight", "No self-weight",
                 "Self-weight is switched off: the slab weighs nothing in this answer.", "slab/self_weight");
        else if (!permanent)
            slip("self-weight", "No self-weight", "There is no permanent case to carry the slab's weight; add one.",
                 "loads/cases");
    }
    void combinations() {
        if (f_.combinations.empty())
            slip("combinations", "No combinations",
                 "No combination is active: nothing is solved; add or switch one on in the table of combinations.",
                 "loads/combinations");
    }
    void cases() {
        without_weight();
        for (const LoadCase& c : m_.loads.cases) {
            const bool used = std::any_of(f_.combinations.begin(), f_.combinations.end(),
                                          [&](const CombinationAnswer& k) { return factor_in(k, c.id) != 0; });
            if (!used && !f_.combinations.empty())
                slip("case " + c.id, "Case " + c.id + " unused", "No active combination contains this case.",
                     "loads/combinations");
            if (!c.reversible || !m_.loads.combinations) continue;
            bool plus = false, minus = false;
            for (const Combination& k : *m_.loads.combinations)
                plus |= factor_in(k, c.id) > 0, minus |= factor_in(k, c.id) < 0;
            if (plus != minus)
                slip("case " + c.id + " sign", "Case " + c.id + " in one sign",
                     "It is reversible but the combinations hold it in one sign only.", "loads/combinations");
        }
    }
    // The slab's weight stands in the first permanent case alone.
    void without_weight() {
        const LoadCase* carries = nullptr;
        for (const LoadCase& c : m_.loads.cases)
            if (!carries && c.action == Action::permanent) carries = &c;
        if (!m_.slab.self_weight || !carries) return;
        std::string rows;
        int n = 0;
        for (const CombinationAnswer& k : f_.combinations)
            if (factor_in(k, carries->id) == 0 && k.combination.purpose != Purpose::trace && ++n <= 5)
                rows += (rows.empty() ? "" : ", ") + k.combination.id;
        if (n == 0) return;
        slip("weight left out", fmt::format("{} combination{} without self-weight", n, n == 1 ? "" : "s"),
             fmt::format("The slab's weight stands in case {}, which {}{} leave{} out.", carries->id, rows,
                         n > 5 ? fmt::format(" and {} more", n - 5) : "", n == 1 ? "s" : ""),
             "loads/combinations");
    }
    bool brings_load_down(const LoadCase& k, const Column& c) const {
        return std::any_of(k.items.begin(), k.items.end(), [&](const LoadItem& i) {
            auto l = std::get_if<ColumnLoad>(&i.load);
            return l && l->column == c.id && (l->N != 0 || l->Mx != 0 || l->My != 0 || l->Hx != 0 || l->Hy != 0);
        });
    }
    void columns() {
        for (const Column& c : m_.columns)
            if (std::none_of(m_.loads.cases.begin(), m_.loads.cases.end(),
                             [&](const LoadCase& k) { return brings_load_down(k, c); }))
                slip("column " + c.id, "Column " + c.id + " unloaded", "No case brings a load down this column.",
                     "columns/" + c.id, c.at);
    }

    // On which side of the slab its ribs lie is a slip that no number shows.
    void ribs() {
        std::string above, below;
        for (const Rib& r : m_.ribs)
            if (std::string* ids = r.flush == Flush::bottom ? &above : r.flush == Flush::top ? &below : nullptr)
                *ids += (ids->empty() ? "" : ", ") + r.id;
        if (above.empty()) return;
        const Point at = find_id(m_.ribs, above.substr(0, above.find(',')))->path[0];
        slip("ribs above", below.empty() ? "The slab hangs below its ribs" : "Ribs above the slab and below it",
             fmt::format(
                 "{} stand{} on the slab (flush \"bottom\"){}: is it meant so? Ribs that hang below the slab are "
                 "flush \"top\".",
                 above, above.find(',') == std::string::npos ? "s" : "",
                 below.empty() ? "" : ", " + below + " hang below it"),
             "ribs/" + above.substr(0, above.find(',')) + "/flush", at);
    }

    const Fields& f_;
    const Model& m_;
    std::vector<Row> rows_;
};

}  // namespace

std::vector<Row> look_at_model(const Fields& f) { return Slips(f).all(); }

}  // namespace mossbed
