// What tables of things that the model keeps in a list have in common: a name and fields (core/model/described.h).
#pragma once
#include <algorithm>
#include <unordered_map>

#include "core/tables/table.h"

namespace mossbed {

// Fields of one sort of thing that the model keeps in a list.
template <class T>
class ThingsTable : public Table {
  public:
    ThingsTable(std::vector<T>& list, ThingKind kind, const char* one) : list_(list), kind_(kind), one_(one) {
        columns_.push_back({.key = "id", .head = one, .holds = TableColumn::name});
    }
    int n_rows() const override { return int(list_.size()); }
    Thing thing(int row) const override { return {kind_, list_[size_t(row)].id}; }
    TableCell cell(int row, int column) const override {
        TableCell c;
        T& t = list_[size_t(row)];
        if (column == 0) {
            c.text = t.id;
            return c;
        }
        const auto d = field_of(t, columns_[size_t(column)].key);
        if (!d) {
            c.is_closed = true;
            return c;
        }
        if (d->is_number())
            c.number = d->number();
        else
            c.text = d->word();
        c.is_standard = d->is_standard();
        return c;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string& text) override {
        T& t = list_[size_t(row)];
        if (column == 0) return rename(row, text);
        auto d = field_of(t, columns_[size_t(column)].key);
        if (!d) return "there is nothing to set here";
        if (d->is_number()) {
            if (!number && !d->may_be_empty()) return "a number is missing";
            d->set_number(number);
            return {};
        }
        const std::vector<std::string> words = d->words();
        if (!words.empty() && std::find(words.begin(), words.end(), text) == words.end())
            return "\"" + text + "\" is none of " + listed(words);
        d->set_word(text);
        return {};
    }
    int add_row(int, std::string*) override {
        T t = fresh();
        names()[t.id] = list_.size();
        list_.push_back(std::move(t));
        return n_rows() - 1;
    }
    void drop_row(int row) override {
        names().erase(list_[size_t(row)].id);
        list_.erase(list_.begin() + row);
    }

  protected:
    virtual T fresh() = 0;
    virtual void renamed(const std::string& from, const std::string& to) = 0;
    // Heads are the fields' labels unless told.
    void field(const char* key, const char* head = "", bool needed = false) {
        T probe;  // its facts only
        const auto d = field_of(probe, key);
        TableColumn c{.key = key, .head = *head || !d ? head : d->facts.label, .is_needed = needed};
        if (d) {
            c.facts = d->facts;
            if (!d->is_number())
                c.words = d->words(), c.holds = c.words.empty() ? TableColumn::text : TableColumn::word;
        }
        columns_.push_back(std::move(c));
    }
    std::string rename(int row, const std::string& to) {
        const std::string from = list_[size_t(row)].id;
        if (to == from) return {};
        if (to.empty()) return std::string("a ") + one_ + " needs a name";
        auto& by_name = names();
        if (by_name.count(to)) return std::string("there is a ") + one_ + " \"" + to + "\" already";
        by_name.erase(from);
        by_name[to] = size_t(row);
        list_[size_t(row)].id = to;
        renamed(from, to);
        return {};
    }
    std::string fresh_name(const std::string& stem) {
        size_t n = std::max(tried_, size_t(1));
        while (names().count(stem + std::to_string(n))) ++n;
        tried_ = n + 1;
        return stem + std::to_string(n);
    }
    static std::string listed(const std::vector<std::string>& words) {
        std::string s;
        for (size_t i = 0; i < words.size(); ++i) s += (i == 0 ? "" : i + 1 == words.size() ? " or " : ", ") + words[i];
        return s;
    }
    std::unordered_map<std::string, size_t>& names() {
        if (names_.size() != list_.size()) {
            names_.clear();
            for (size_t i = 0; i < list_.size(); ++i) names_[list_[i].id] = i;
        }
        return names_;
    }
    std::vector<T>& list_;
    ThingKind kind_;
    const char* one_;

  private:
    std::unordered_map<std::string, size_t> names_;
    size_t tried_ = 0;
};

// Tables of what is drawn on the plan: setting-out lines, walls, ribs, patches, openings, ground patches.
std::unique_ptr<Table> plan_table_of(TableKind kind, Model& model);
// Every item of every case, a row each: its case, its sort, where it lies, its numbers.
std::unique_ptr<Table> load_table_of(Model& model);
std::unique_ptr<Table> rules_table_of(Model& model);
// "0, 0; 12, 0" into points; why not, where there are fewer than `fewest`.
std::string read_points(std::vector<Point>& points, const std::string& text, size_t fewest);

}  // namespace mossbed
