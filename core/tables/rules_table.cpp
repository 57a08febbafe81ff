// The numbers of the rules by which combinations are written, each with its clause. Where one is changed the model
// keeps its own copy of the rule file (`loads.rules`); a copy that says what the file says is let go of.
#include <nlohmann/json.hpp>

#include "core/codes/rules.h"
#include "core/tables/things_table.h"

namespace mossbed {
namespace {

using json = nlohmann::ordered_json;

struct RuleNumber {
    json::json_pointer at;
    std::string set, what, clause;
};

json parsed(const std::string& text) { return json::parse(text, nullptr, false); }

// "imposed E", "(6.10), W leads": what the objects on the way to a number call themselves.
std::string called(const json& object) {
    for (const char* key : {"action", "id"})
        if (const auto it = object.find(key); it != object.end() && it->is_string()) {
            std::string name = it->get<std::string>();
            for (const char* more : {"category", "rule"})
                if (const auto m = object.find(more); m != object.end() && m->is_string())
                    name += " " + m->get<std::string>();
            return name;
        }
    return {};
}

const char* words_of(const std::string& key) {
    if (key == "psi0") return "ψ0";
    if (key == "psi1") return "ψ1";
    if (key == "psi2") return "ψ2";
    if (key == "factor") return "γ";
    if (key == "lead") return "leads";
    if (key == "with") return "beside";
    if (key == "share") return "across an earthquake";
    if (key == "permanent") return "permanent γ";
    if (key == "permanent_relieves") return "permanent γ where it helps";
    if (key == "groundwater") return "groundwater γ";
    return nullptr;
}

struct Walk {
    const std::string& variant;
    std::vector<RuleNumber> found{};

    void into(const json& here, const json::json_pointer& at, std::string set, const std::string& what,
              std::string clause) {
        if (here.is_object()) {
            if (const auto of = here.find("of");
                of != here.end() && of->is_array() && std::find(of->begin(), of->end(), json(variant)) == of->end())
                return;  // of another variant
            if (const auto c = here.find("clause"); c != here.end() && c->is_string()) clause = c->get<std::string>();
        }
        if (here.is_number()) found.push_back({at, set, what, clause});
        if (!here.is_structured()) return;
        for (const auto& [key, value] : here.items()) {
            const std::string name = value.is_object() ? called(value) : std::string();
            const bool begins = at.empty() || (set.empty() && value.is_object());
            const char* words = words_of(key);
            std::string further = what;
            for (const std::string& part : {here.is_array() && !set.empty() ? name : std::string(),
                                            here.is_object() && words ? std::string(words) : std::string()})
                if (!part.empty()) further += (further.empty() ? "" : " ") + part;
            into(value, here.is_array() ? at / size_t(std::stoul(key)) : at / key,
                 begins && here.is_array() ? name : set, further, clause);
        }
    }
};

class RulesTable : public Table {
  public:
    explicit RulesTable(Model& m) : m_(m), file_(parsed(rule_file_of(m.settings.combination_rules))) {
        if (!m.loads.rules.empty()) own_ = parsed(m.loads.rules);
        Walk walk{m.settings.combination_rules};
        if (now().is_object()) walk.into(now(), {}, "", "", "");
        rows_ = std::move(walk.found);
        columns_.push_back({.key = "set", .head = "set", .holds = TableColumn::shown});
        columns_.push_back({.key = "what", .head = "what", .holds = TableColumn::shown});
        columns_.push_back({.key = "number", .head = "number", .facts = {.least = 0, .most = 10}});
        columns_.push_back({.key = "clause", .head = "clause", .holds = TableColumn::shown});
    }
    int n_rows() const override { return int(rows_.size()); }
    Thing thing(int row) const override { return {ThingKind::rule, rows_[size_t(row)].at.to_string()}; }
    TableCell cell(int row, int column) const override {
        const RuleNumber& r = rows_[size_t(row)];
        TableCell c;
        if (column == 0) c.text = r.set;
        if (column == 1) c.text = r.what;
        if (column == 3) c.text = r.clause;
        if (column != 2) return c;
        c.number = now().at(r.at).get<double>();
        c.is_standard = as_published(r) == c.number;
        c.tip = c.is_standard ? "as the standard has it; emptied, a changed number becomes this again" : "your own";
        return c;
    }
    std::string set(int row, int column, const std::optional<double>& number, const std::string&) override {
        const RuleNumber& r = rows_[size_t(row)];
        if (column != 2) return "this is not to be typed";
        const std::optional<double> to = number ? number : as_published(r);
        if (!to) return "a number is missing";
        json changed = now();
        changed.at(r.at) = *to;
        own_ = std::move(changed);
        m_.loads.rules = *own_ == file_ ? std::string() : own_->dump(1);
        return {};
    }
    int add_row(int, std::string* why) override {
        if (why) *why = "a rule file gets new sets and terms in its text; the table changes its numbers";
        return -1;
    }
    void drop_row(int) override {}

  private:
    const json& now() const { return own_ ? *own_ : file_; }
    std::optional<double> as_published(const RuleNumber& r) const {
        if (!file_.contains(r.at) || !file_.at(r.at).is_number()) return {};
        return file_.at(r.at).get<double>();
    }
    Model& m_;
    json file_;
    std::optional<json> own_;
    std::vector<RuleNumber> rows_;
};

}  // namespace

std::unique_ptr<Table> rules_table_of(Model& m) { return std::make_unique<RulesTable>(m); }

}  // namespace mossbed
