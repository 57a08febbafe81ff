// The items of all cases as rows. What an item has no such number of is closed.
#include "core/model/load_values.h"
#include "core/tables/things_table.h"

namespace mossbed {
namespace {

constexpr std::array sorts{"column", "point", "line", "wall", "rib", "area", "slab", "uplift", "pile"};

LoadItem new_item(const std::string& sort) {
    if (sort == "column") return {ColumnLoad{}, {}};
    if (sort == "point") return {PointLoad{}, {}};
    if (sort == "line") return {LineLoad{}, {}};
    if (sort == "wall") return {WallLoad{}, {}};
    if (sort == "rib") return {RibLoad{}, {}};
    if (sort == "area") return {AreaLoad{}, {}};
    if (sort == "uplift") return {Uplift{}, {}};
    if (sort == "pile") return {PileLoad{}, {}};
    return {SlabLoad{}, {}};
}

struct Number {
    const char *key, *head;
    Unit unit;
};
constexpr std::array<Number, 11> numbers{{{"N", "N", Unit::kilonewton},
                                          {"q", "q", Unit::kilonewton_per_metre},
                                          {"q2", "q at the end", Unit::kilonewton_per_metre},
                                          {"p", "p", Unit::kilopascal},
                                          {"depth", "depth", Unit::metre},
                                          {"unit_weight", "unit weight", Unit::kilonewton_per_cubic_metre},
                                          {"level", "water to", Unit::metre},
                                          {"Mx", "Mx", Unit::kilonewton_metre},
                                          {"My", "My", Unit::kilonewton_metre},
                                          {"Hx", "Hx", Unit::kilonewton},
                                          {"Hy", "Hy", Unit::kilonewton}}};

class LoadTable : public Table {
  public:
    explicit LoadTable(Model& m) : m_(m) {
        std::vector<std::string> cases;
        for (size_t c = 0; c < m.loads.cases.size(); ++c) {
            cases.push_back(m.loads.cases[c].id);
            for (size_t i = 0; i < m.loads.cases[c].items.size(); ++i) at_.emplace_back(c, i);
        }
        columns_.push_back({.key = "id", .head = "load", .holds = TableColumn::name});
        columns_.push_back({.key = "case", .head = "case", .holds = TableColumn::word, .words = cases});
        columns_.push_back(
            {.key = "sort", .head = "on", .holds = TableColumn::word, .words = {sorts.begin(), sorts.end()}});
        columns_.push_back({.key = "place", .head = "where, or its name", .holds = TableColumn::text});
        for (const Number& n : numbers) columns_.push_back({.key = n.key, .head = n.head, .facts = {.unit = n.unit}});
    }
    int n_rows() const override { return int(at_.size()); }
    Thing thing(int row) const override {
        const auto [c, i] = at_[size_t(row)];
        return load_thing(m_.loads.cases[c].id, i);
    }
    TableCell cell(int row, int column) const override {
        TableCell out;
        const LoadItem& i = item(row);
        if (column == 0) out.text = thing(row).id;
        if (column == 1) out.text = m_.loads.cases[at_[size_t(row)].first].id;
        if (column == 2) out.text = sort_of_load(i);
        if (column == 3) {
            out.text = place_of_load_in_words(i);
            out.is_closed = std::holds_alternative<SlabLoad>(i.load) || std::holds_alternative<Uplift>(i.load);
        }
        if (column < 4) return out;
        out.is_closed = !may_have(i, columns_[size_t(column)].key);
        if (const auto v = value(i, columns_[size_t(column)].key)) out.number = v->get(i);
        return out;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string& text) override {
        LoadItem& i = item(row);
        if (column == 0) return "a load is named after its case and its place in it";
        if (column == 1) return move(row, text);
        if (column == 2) {
            if (std::none_of(sorts.begin(), sorts.end(), [&](const char* s) { return text == s; }))
                return "\"" + text + "\" is no sort of load";
            if (text != sort_of_load(i)) i = new_item(text);
            return {};
        }
        if (column == 3) return put(i, text);
        const std::string& key = columns_[size_t(column)].key;
        if (!may_have(i, key)) return std::string("a load on a ") + sort_of_load(i) + " has no such number";
        if (key == "depth" || key == "unit_weight") fill_instead(i, true, number && key[0] == 'u' ? *number : 18);
        if (key == "p" && number) fill_instead(i, false, 0);
        const auto v = value(i, key);
        if (v) v->set(i, number.value_or(0));
        return {};
    }
    int add_row(int after, std::string* why) override {
        if (m_.loads.cases.empty()) {
            if (why) *why = "a load needs a case first";
            return -1;
        }
        const size_t c = after >= 0 && after < n_rows() ? at_[size_t(after)].first : m_.loads.cases.size() - 1;
        m_.loads.cases[c].items.push_back(new_item("slab"));
        at_.emplace_back(c, m_.loads.cases[c].items.size() - 1);
        return n_rows() - 1;
    }
    void drop_row(int row) override {
        take_out(row);
        at_.erase(at_.begin() + row);
    }

  private:
    LoadItem& item(int row) const {
        const auto [c, i] = at_[size_t(row)];
        return m_.loads.cases[c].items[i];
    }
    static std::optional<LoadValue> value(const LoadItem& i, const std::string& key) {
        for (const LoadValue& v : values_of_load(i))
            if (key == v.key) return v;
        return {};
    }
    // A pressure may be written as depth × unit weight instead, and the other way round.
    static bool may_have(const LoadItem& i, const std::string& key) {
        const bool presses = std::holds_alternative<AreaLoad>(i.load) || std::holds_alternative<SlabLoad>(i.load);
        if (presses && (key == "p" || key == "depth" || key == "unit_weight")) return true;
        return value(i, key).has_value();
    }
    void take_out(int row) {
        const auto [c, i] = at_[size_t(row)];
        auto& items = m_.loads.cases[c].items;
        items.erase(items.begin() + long(i));
        for (auto& [k, j] : at_)
            if (k == c && j > i) --j;
    }
    std::string move(int row, const std::string& to) {
        for (size_t c = 0; c < m_.loads.cases.size(); ++c)
            if (m_.loads.cases[c].id == to) {
                if (c == at_[size_t(row)].first) return {};
                LoadItem i = item(row);
                take_out(row);
                m_.loads.cases[c].items.push_back(std::move(i));
                at_[size_t(row)] = {c, m_.loads.cases[c].items.size() - 1};
                return {};
            }
        return "there is no case \"" + to + "\"";
    }
    std::string put(LoadItem& i, const std::string& text) const {
        auto named = [&](const auto& list, std::string& id, const char* what) -> std::string {
            if (!find_id(list, text)) return std::string("there is no ") + what + " \"" + text + "\"";
            id = text;
            return {};
        };
        if (auto* l = std::get_if<ColumnLoad>(&i.load)) return named(m_.columns, l->column, "column");
        if (auto* l = std::get_if<WallLoad>(&i.load)) return named(m_.walls, l->wall, "wall");
        if (auto* l = std::get_if<RibLoad>(&i.load)) return named(m_.ribs, l->rib, "rib");
        if (auto* l = std::get_if<PileLoad>(&i.load)) return named(m_.piles, l->pile, "pile");
        if (auto* l = std::get_if<LineLoad>(&i.load)) return read_points(l->path, text, 2);
        if (auto* l = std::get_if<AreaLoad>(&i.load)) return read_points(l->outline, text, 3);
        if (auto* l = std::get_if<PointLoad>(&i.load)) {
            std::vector<Point> one;
            const std::string why = read_points(one, text, 1);
            if (why.empty()) l->at = one[0];
            return why;
        }
        return text == place_of_load_in_words(i) ? "" : "it lies on the whole slab";
    }
    Model& m_;
    std::vector<std::pair<size_t, size_t>> at_;  // case, item
};

}  // namespace

std::unique_ptr<Table> load_table_of(Model& model) { return std::make_unique<LoadTable>(model); }

}  // namespace mossbed
