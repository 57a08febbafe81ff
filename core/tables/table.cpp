#include "core/tables/table.h"

#include <algorithm>

#include "core/ground/soil_profile.h"
#include "core/model/edit.h"
#include "core/model/words.h"
#include "core/tables/things_table.h"

namespace mossbed {

std::string TableColumn::full_head() const {
    const char* u = name_of(unit());
    return *u ? head + " [" + u + "]" : head;
}

double Table::sum(int column) const {
    double s = 0;
    for (int r = 0; r < n_rows(); ++r) s += cell(r, column).number.value_or(0);
    return s;
}

int Table::column_of(const std::string& said) const {
    auto plain = [](std::string s) {
        std::erase_if(s, [](unsigned char c) { return std::isspace(c); });
        std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return std::tolower(c); });
        return s;
    };
    const std::string wanted = plain(said);
    for (size_t i = 0; i < columns_.size(); ++i)
        for (const std::string& h : {columns_[i].head, columns_[i].full_head(), columns_[i].key})
            if (plain(h) == wanted) return int(i);
    return -1;
}

namespace {

struct Component {
    const char* name;
    double ColumnLoad::*value;
    Unit unit;
    const char* help;
};
constexpr std::array<Component, 5> components{
    {{"N", &ColumnLoad::N, Unit::kilonewton, "presses down"},
     {"Mx", &ColumnLoad::Mx, Unit::kilonewton_metre, "about +x, right-hand rule"},
     {"My", &ColumnLoad::My, Unit::kilonewton_metre, "about +y, right-hand rule"},
     {"Hx", &ColumnLoad::Hx, Unit::kilonewton, "along +x, at the top of the pedestal or slab"},
     {"Hy", &ColumnLoad::Hy, Unit::kilonewton, "along +y, at the top of the pedestal or slab"}}};

// With the loads of each, a group of values a case.
class ColumnsTable : public ThingsTable<Column> {
  public:
    ColumnsTable(Model& m, const TableOptions& o, bool loads_only)
        : ThingsTable(m.columns, ThingKind::column, "column"), model_(m) {
        if (!loads_only) {
            field("at/x", "x", true), field("at/y", "y", true);
            field("shape", "shape"), field("size/0", "size x, ⌀"), field("size/1", "size y"), field("angle", "turned");
            field("pedestal_height", "pedestal");
            columns_[5].facts = columns_[4].facts;  // a round one has none
        }
        n_fields_ = int(columns_.size());
        for (size_t k = 0; k < m.loads.cases.size(); ++k) {
            for (LoadItem& i : m.loads.cases[k].items)
                if (auto* l = std::get_if<ColumnLoad>(&i.load)) sums_[k][l->column] += *l;
            for (const Component& c : components) {
                const auto& of_case = sums_[k];
                const bool used = std::any_of(of_case.begin(), of_case.end(),
                                              [&](const auto& s) { return s.second.load.*c.value != 0; });
                if (c.value != &ColumnLoad::N && !o.all_components && !used) continue;
                columns_.push_back({.key = m.loads.cases[k].id + "/" + c.name,
                                    .head = m.loads.cases[k].id + " " + c.name,
                                    .facts = {.unit = c.unit, .help = c.help}});
                of_column_.emplace_back(k, &c);
            }
        }
    }
    int add_row(int after, std::string* why) override {
        if (n_fields_ > 1) return ThingsTable::add_row(after, why);
        if (why) *why = "columns are added in their own table, where their places are";
        return -1;
    }
    TableCell cell(int row, int column) const override {
        if (column < n_fields_) return ThingsTable::cell(row, column);
        TableCell out;
        const auto& [k, c] = of_column_[size_t(column - n_fields_)];
        const auto of_case = sums_.find(k);
        if (of_case == sums_.end()) return out;
        const auto it = of_case->second.find(list_[size_t(row)].id);
        if (it != of_case->second.end() && (it->second.load.*c->value != 0 || c->value == &ColumnLoad::N))
            out.number = it->second.load.*c->value;
        if (c->value != &ColumnLoad::N) return out;
        const Whole& whole = whole_of(k);
        out.is_largest = out.number && list_.size() > 2 && std::abs(*out.number) == whole.largest;
        out.is_missing = !out.number && 2 * whole.n > list_.size();
        return out;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string& text) override {
        if (column >= n_fields_) {
            const auto& [k, c] = of_column_[size_t(column - n_fields_)];
            const std::string& id = list_[size_t(row)].id;
            Sum& sum = sums_[k][id];
            if (sum.load.*c->value == number.value_or(0) && sum.n == 1) return {};
            sum.load.*c->value = number.value_or(0);
            wholes_.erase(k);
            write(k, id, sum);
            return {};
        }
        const std::string why = ThingsTable::set(row, column, number, text);
        Column& of = list_[size_t(row)];
        if (why.empty() && columns_[size_t(column)].key == "shape") of.size.resize(of.round() ? 1 : 2, of.size[0]);
        return why;
    }

  private:
    struct Whole {  // of the N of a case
        double largest = 0;
        size_t n = 0;
    };
    const Whole& whole_of(size_t k) const {
        const auto known = wholes_.find(k);
        if (known != wholes_.end()) return known->second;
        Whole& w = wholes_[k];
        for (const auto& [id, sum] : sums_.at(k)) w.largest = std::max(w.largest, std::abs(sum.load.N)), ++w.n;
        return w;
    }
    mutable std::map<size_t, Whole> wholes_;
    struct Sum {
        ColumnLoad load;
        int n = 0;  // items that it sums
        void operator+=(const ColumnLoad& l) {
            load.column = l.column, ++n;
            for (const Component& c : components) load.*c.value += l.*c.value;
        }
    };
    Column fresh() override {
        Column c;
        if (!list_.empty()) c.shape = list_.back().shape, c.size = list_.back().size;
        c.id = fresh_name("C");
        return c;
    }
    // One item a column and case, however many there were.
    void write(size_t k, const std::string& id, Sum& sum) {
        auto& items = model_.loads.cases[k].items;
        if (sum.n > 1) {
            bool is_first = true;
            std::erase_if(items, [&](const LoadItem& item) {
                auto* l = std::get_if<ColumnLoad>(&item.load);
                return l && l->column == id && !std::exchange(is_first, false);
            });
            where_.erase(k);
        }
        sum.load.column = id, sum.n = 1;
        auto& at = where(k);
        if (const auto it = at.find(id); it != at.end()) {
            items[it->second].load = sum.load;
            return;
        }
        at[id] = items.size();
        items.push_back({sum.load, {}});
    }
    void renamed(const std::string& from, const std::string& to) override {
        for (auto& [k, of_case] : sums_) {
            const auto node = of_case.find(from);
            if (node == of_case.end()) continue;
            auto moved = of_case.extract(node);
            moved.key() = to, moved.mapped().load.column = to;
            of_case.insert(std::move(moved));
            auto& items = model_.loads.cases[k].items;
            for (LoadItem& i : items)
                if (auto* l = std::get_if<ColumnLoad>(&i.load); l && l->column == from) l->column = to;
            where_.erase(k);
        }
    }
    // The first item of a column in a case.
    std::unordered_map<std::string, size_t>& where(size_t k) {
        const auto known = where_.find(k);
        if (known != where_.end()) return known->second;
        auto& at = where_[k];
        const auto& items = model_.loads.cases[k].items;
        for (size_t i = 0; i < items.size(); ++i)
            if (auto* l = std::get_if<ColumnLoad>(&items[i].load)) at.emplace(l->column, i);
        return at;
    }
    Model& model_;
    int n_fields_ = 0;
    std::vector<std::pair<size_t, const Component*>> of_column_;
    std::map<size_t, std::unordered_map<std::string, Sum>> sums_;  // by case
    std::map<size_t, std::unordered_map<std::string, size_t>> where_;
};

class BoreholesTable : public ThingsTable<Borehole> {
  public:
    explicit BoreholesTable(Model& m) : ThingsTable(m.ground.boreholes, ThingKind::borehole, "borehole"), model_(m) {
        field("at/x", "x", true), field("at/y", "y", true), field("ground_level", "ground"),
            field("water_level", "water");
        columns_.push_back({.key = "", .head = "layers", .holds = TableColumn::shown});
        columns_.push_back(
            {.key = "", .head = "to level", .holds = TableColumn::shown, .facts = {.unit = Unit::metre}});
    }
    TableCell cell(int row, int column) const override {
        if (columns_[size_t(column)].holds != TableColumn::shown) return ThingsTable::cell(row, column);
        const Borehole& b = list_[size_t(row)];
        TableCell c;
        c.is_closed = true;
        if (columns_[size_t(column)].head == "layers")
            c.number = double(b.layers.size());
        else if (!b.layers.empty())
            c.number = b.layers.back().bottom;
        return c;
    }

  private:
    Borehole fresh() override {
        Borehole b = new_borehole(model_, nullptr);
        b.id = fresh_name("BH");
        if (model_.ground.strata.empty() && !b.layers.empty())
            model_.ground.strata.push_back(placeholder_stratum(b.layers.front().stratum));
        return b;
    }
    void renamed(const std::string&, const std::string&) override {}
    Model& model_;
};

class StrataTable : public ThingsTable<Stratum> {
  public:
    explicit StrataTable(Model& m) : ThingsTable(m.ground.strata, ThingKind::stratum, "stratum"), model_(m) {
        field("description", "description"), field("E", "E drained"), field("E_basis", "E from");
        field("E_reload", "E again"), field("nu"), field("unit_weight"), field("saturated_unit_weight", "γ sat");
        field("cu"), field("phi"), field("c"), field("compression_index"), field("recompression_index");
        field("void_ratio"), field("preconsolidation"), field("cv"), field("drainage_path", "path");
    }
    TableCell cell(int row, int column) const override {
        TableCell c = ThingsTable::cell(row, column);
        const Stratum& s = list_[size_t(row)];
        const std::string& key = columns_[size_t(column)].key;
        if (key == "E" || key == "E_basis") c.is_doubtful = is_proposed(s);
        if (key == "E") c.tip = s.E_basis;
        if (key == "E_basis" || key == "description") c.tip = c.text;
        return c;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string& text) override {
        const std::string why = ThingsTable::set(row, column, number, text);
        Stratum& s = list_[size_t(row)];
        if (why.empty() && columns_[size_t(column)].key == "E" && is_proposed(s))
            s.E_basis.clear();  // it is the engineer's now
        return why;
    }

  private:
    Stratum fresh() override { return placeholder_stratum(fresh_name("stratum-")); }
    void renamed(const std::string& from, const std::string& to) override {
        for (Borehole& b : model_.ground.boreholes)
            for (BoreholeLayer& l : b.layers)
                if (l.stratum == from) l.stratum = to;
    }
    Model& model_;
};

// All layers of all boreholes, from the top.
class LayersTable : public Table {
  public:
    explicit LayersTable(Model& m) : model_(m) {
        std::vector<std::string> strata;
        for (const Stratum& s : m.ground.strata) strata.push_back(s.id);
        columns_ = {
            {.key = "borehole", .head = "borehole", .holds = TableColumn::text, .is_needed = true},
            {.key = "stratum", .head = "stratum", .holds = TableColumn::word, .words = strata, .is_needed = true},
            {.key = "bottom", .head = "bottom", .facts = {.unit = Unit::metre, .help = "level"}, .is_needed = true},
            {.key = "thickness", .head = "thick", .facts = {.unit = Unit::metre, .help = "moves what lies below"}},
            {.key = "", .head = "blows N", .holds = TableColumn::shown}};
        index();
    }
    int n_rows() const override { return int(at_.size()); }
    Thing thing(int row) const override { return {ThingKind::borehole, hole(row).id, int(at_[size_t(row)].second)}; }
    TableCell cell(int row, int column) const override {
        TableCell c;
        const BoreholeLayer& l = layer(row);
        switch (column) {
            case 0:
                c.text = hole(row).id;
                break;
            case 1:
                c.text = l.stratum;
                break;
            case 2:
                c.number = l.bottom;
                break;
            case 3:
                c.number = top(row) - l.bottom;
                break;
            default:
                c.is_closed = true;
                for (const BlowCount& k : hole(row).blow_counts)
                    if (k.level <= top(row) && k.level > l.bottom)
                        c.text += (c.text.empty() ? "" : " ") + std::to_string(std::lround(k.N));
        }
        return c;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string& text) override {
        if (column == 0) {
            if (text == hole(row).id) return {};
            Borehole* to = find_id(model_.ground.boreholes, text);
            if (!to) return "there is no borehole \"" + text + "\"";
            const BoreholeLayer l = layer(row);
            take_out(row);
            to->layers.push_back(l);
            at_[size_t(row)] = {size_t(to - model_.ground.boreholes.data()), to->layers.size() - 1};
            return {};
        }
        if (column == 1) {
            if (!find_id(model_.ground.strata, text)) return "there is no stratum \"" + text + "\"";
            layer(row).stratum = text;
            return {};
        }
        if (!number) return "a level is missing";
        if (column == 2) {
            layer(row).bottom = *number;
            return {};
        }
        if (*number <= 0) return "a layer needs a thickness above zero";
        auto& layers = hole(row).layers;
        const double by = top(row) - *number - layer(row).bottom;
        for (size_t k = at_[size_t(row)].second; k < layers.size(); ++k) layers[k].bottom += by;
        return {};
    }
    int add_row(int after, std::string* why) override {
        auto& holes = model_.ground.boreholes;
        if (holes.empty() || model_.ground.strata.empty()) {
            if (why) *why = holes.empty() ? "a layer needs a borehole first" : "a layer needs a stratum first";
            return -1;
        }
        const bool below = after >= 0 && after < n_rows();
        const size_t h = below ? at_[size_t(after)].first : holes.size() - 1;
        auto& layers = holes[h].layers;
        const size_t k = below ? at_[size_t(after)].second + 1 : layers.size();
        const double above = k == 0 ? ground_level_of(model_, holes[h]) : layers[k - 1].bottom;
        const double bottom = k < layers.size() ? (above + layers[k].bottom) / 2 : above - 3;
        layers.insert(layers.begin() + long(k), {model_.ground.strata.back().id, bottom, {}});
        const int row = below ? after + 1 : n_rows();
        for (auto& [hole, layer] : at_)
            if (hole == h && layer >= k) ++layer;
        at_.insert(at_.begin() + row, {h, k});
        return row;
    }
    void drop_row(int row) override {
        take_out(row);
        at_.erase(at_.begin() + row);
    }

  private:
    void take_out(int row) {
        const auto [h, k] = at_[size_t(row)];
        auto& layers = model_.ground.boreholes[h].layers;
        layers.erase(layers.begin() + long(k));
        for (auto& [hole, layer] : at_)
            if (hole == h && layer > k) --layer;
    }
    void index() {
        for (size_t h = 0; h < model_.ground.boreholes.size(); ++h)
            for (size_t k = 0; k < model_.ground.boreholes[h].layers.size(); ++k) at_.emplace_back(h, k);
    }
    Borehole& hole(int row) const { return model_.ground.boreholes[at_[size_t(row)].first]; }
    BoreholeLayer& layer(int row) const { return hole(row).layers[at_[size_t(row)].second]; }
    double top(int row) const {
        const size_t k = at_[size_t(row)].second;
        return k == 0 ? ground_level_of(model_, hole(row)) : hole(row).layers[k - 1].bottom;
    }
    Model& model_;
    std::vector<std::pair<size_t, size_t>> at_;  // borehole, layer
};

}  // namespace

std::unique_ptr<Table> table_of(TableKind kind, Model& m, const TableOptions& o) {
    switch (kind) {
        case TableKind::columns:
            return std::make_unique<ColumnsTable>(m, o, false);
        case TableKind::load_sheet:
            return std::make_unique<ColumnsTable>(m, o, true);
        case TableKind::boreholes:
            return std::make_unique<BoreholesTable>(m);
        case TableKind::layers:
            return std::make_unique<LayersTable>(m);
        case TableKind::strata:
            return std::make_unique<StrataTable>(m);
        case TableKind::loads:
            return load_table_of(m);
        case TableKind::rules:
            return rules_table_of(m);
        default:
            return plan_table_of(kind, m);
    }
}

bool is_proposed(const Stratum& s) {
    return s.E_basis.rfind("proposal", 0) == 0 || s.E_basis.rfind("placeholder", 0) == 0;
}

std::string remove_rows(TableKind kind, Model& m, const Things& things) {
    if (kind == TableKind::rules) return "the rules keep all their numbers; an emptied one is as published again";
    if (kind == TableKind::strata) {
        for (const Thing& t : things)
            for (const Borehole& b : m.ground.boreholes)
                for (const BoreholeLayer& l : b.layers)
                    if (l.stratum == t.id)
                        return "borehole " + b.id + " has layers of " + t.id + "; give them another stratum first";
        std::erase_if(m.ground.strata, [&](const Stratum& s) { return things.count({ThingKind::stratum, s.id}) > 0; });
        return {};
    }
    if (kind == TableKind::layers) {
        for (Borehole& b : m.ground.boreholes) {
            int k = -1;
            std::erase_if(b.layers, [&](const BoreholeLayer&) {
                return things.count({ThingKind::borehole, b.id, ++k}) > 0;
            });
        }
        return {};
    }
    m = without(std::move(m), things);
    return {};
}

const char* title_of(TableKind kind) {
    static constexpr std::array all{"Columns", "Boreholes", "Layers",         "Strata", "Setting-out", "Walls", "Ribs",
                                    "Patches", "Openings",  "Ground patches", "Loads",  "Load sheet",  "Rules"};
    return all[size_t(kind)];
}
const char* one_of(TableKind kind) {
    static constexpr std::array all{"column", "borehole", "layer",        "stratum", "line",   "wall", "rib",
                                    "patch",  "opening",  "ground patch", "load",    "column", "rule"};
    return all[size_t(kind)];
}

}  // namespace mossbed
