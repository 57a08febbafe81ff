#include <nlohmann/json.hpp>
#include <set>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

#include "core/file/model_file.h"
#include "core/file/schema.h"
#include "core/model/fields.h"

namespace mossbed {
namespace {

using nlohmann::json;

std::string shown(const json& j) {
    std::string s = j.dump();
    return s.size() > 40 ? s.substr(0, 37) + "..." : s;
}

using Pointers = std::set<std::string>;

// Where a value stands: in words for people ("columns[C1].size"), as a pointer for "unset" (RFC 6901), and whether it
// is one that nobody set.
class Place {
  public:
    explicit Place(const Pointers& unset) : unset_(&unset) {}
    Place key(const std::string& k) const { return step(words_.empty() ? k : words_ + "." + k, escaped(k)); }
    Place item(const std::string& name, size_t i) const { return step(words_ + name, std::to_string(i)); }
    Place named(const std::string& words) const {
        Place p = *this;
        p.words_ = words;
        return p;
    }
    const std::string& words() const { return words_; }
    bool is_unset() const { return is_unset_; }

  private:
    Place step(std::string words, const std::string& part) const {
        Place p = *this;
        p.words_ = std::move(words), p.pointer_ += "/" + part;
        p.is_unset_ = is_unset_ || unset_->count(p.pointer_) > 0;
        return p;
    }
    static std::string escaped(const std::string& k) {
        std::string out;
        for (char c : k) out += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
        return out;
    }
    const Pointers* unset_;
    std::string words_, pointer_;
    bool is_unset_ = false;
};

// Reads the keys of one object; what is missing keeps its default, what is unknown is kept as text.
class Reader {
  public:
    Reader(const json& j, Place place, Keys& keys, std::vector<Problem>& problems)
        : j_(j), place_(std::move(place)), keys_(keys), problems_(problems) {}

    template <class T>
    void operator()(const char* key, T& out, const Facts& facts = {}) {
        known_.insert(key);
        if (auto it = j_.find(key); it != j_.end()) {
            const Place p = note(key);
            read(*it, p, out);
            judge(p, out, facts);
        }
    }
    void id(std::string& out) {
        known_.insert("id");
        const auto it = j_.find("id");
        if (it == j_.end() || !it->is_string() || it->get<std::string>().empty())
            fault(place_.words(), "it has no id", "give it a \"id\" that is a text of its own");
        else
            out = it->get<std::string>();
    }
    void choice(const char* key, std::string& out, Allowed allowed) {
        (*this)(key, out);
        if (std::none_of(allowed.begin(), allowed.end(), [&](const char* a) { return out == a; })) {
            std::string list;
            for (const char* a : allowed) list += (list.empty() ? "" : ", ") + ("\"" + std::string(a) + "\"");
            fault(at(key), "\"" + out + "\" is not one of the words known here", "write one of " + list);
        }
    }
    void raw(const char* key, std::string& out) {
        known_.insert(key);
        if (auto it = j_.find(key); it != j_.end()) {
            note(key);
            if (!it->is_object()) fault(at(key), "an object is expected here", "write { … }");
            out = it->dump();
        }
    }
    template <class F>
    void group(const char* key, Keys& keys, F each) {
        known_.insert(key);
        const auto it = j_.find(key);
        if (it == j_.end()) return;
        const Place p = note(key);
        if (!it->is_object()) return fault(at(key), "an object is expected here, not " + shown(*it), "write { … }");
        Reader inner(*it, p, keys, problems_);
        each(inner);
        inner.keep_unknown();
    }
    void keep_unknown() {
        for (auto it = j_.begin(); it != j_.end(); ++it)
            if (!known_.count(it.key())) {
                keys_[it.key()] = it->dump();
                problems_.push_back({"this version does not know the key \"" + it.key() + "\"",
                                     place_.words().empty() ? "the file" : place_.words(),
                                     "it is kept as it is",
                                     Severity::warning,
                                     {}});
            }
    }
    void know(std::initializer_list<const char*> keys) { known_.insert(keys.begin(), keys.end()); }

  private:
    std::string at(const std::string& key) const { return place_.key(key).words(); }
    Place note(const char* key) {  // that the file states it, unless it says that nobody did
        Place p = place_.key(key);
        if (!p.is_unset()) keys_[key] = "";
        return p;
    }
    void fault(const std::string& where, const std::string& what, const std::string& mend) {
        problems_.push_back({what, where, mend, Severity::error, {}});
    }
    void expected(const std::string& where, const char* thing, const json& got, const char* mend) {
        fault(where, std::string(thing) + " is expected here, not " + shown(got), mend);
    }

    // What must be above zero is refused here; narrower ranges are for validate.h, which sees the whole model.
    void judge(const Place& w, double v, const Facts& f) {
        if (f.above_least && f.least == 0 && !(v > 0)) fault(w.words(), f.why_not(v), f.how_to_mend());
    }
    void judge(const Place& w, const std::optional<double>& v, const Facts& f) {
        if (v) judge(w, *v, f);
    }
    void judge(const Place& w, const std::vector<double>& all, const Facts& f) {
        for (double v : all) judge(w, v, f);
    }
    template <class T>
    void judge(const Place&, const T&, const Facts&) {}

    void read(const json& j, const Place& w, double& out) {
        if (!j.is_number() || !std::isfinite(j.get<double>()))
            expected(w.words(), "a number", j, "write a plain number with a decimal point and without quotes or unit");
        else
            out = j.get<double>();
    }
    void read(const json& j, const Place& w, bool& out) {
        if (!j.is_boolean()) return expected(w.words(), "true or false", j, "write true or false without quotes");
        out = j.get<bool>();
    }
    void read(const json& j, const Place& w, std::string& out) {
        if (j.is_null()) return;
        if (!j.is_string()) return expected(w.words(), "a text", j, "put it in quotes");
        out = j.get<std::string>();
    }
    void read(const json& j, const Place& w, SharedText& out) {
        std::string text;
        read(j, w, text);
        out = std::move(text);
    }
    template <class T>
    void read(const json& j, const Place& w, std::optional<T>& out) {
        if (j.is_null()) {
            out.reset();
            return;
        }
        T value{};
        read(j, w, value);
        out = value;
    }
    void read(const json& j, const Place& w, Point& out) {
        if (!j.is_array() || j.size() != 2) return expected(w.words(), "a point [x, y]", j, "write two numbers in m");
        read(j[0], w.item("[0]", 0), out.x);
        read(j[1], w.item("[1]", 1), out.y);
    }
    template <HasWords E>
    void read(const json& j, const Place& w, E& out) {
        std::string word = name_of(out);
        read(j, w, word);
        if (const auto e = from_word<E>(word))
            out = *e;
        else
            fault(w.words(), "\"" + word + "\" is not one of the words known here",
                  "write one of " + words_to_choose<E>());
    }
    template <class T>
    void read(const json& j, const Place& w, std::vector<T>& out) {
        if (!j.is_array()) return expected(w.words(), "a list [ … ]", j, "write [ ] round it");
        out.clear();
        for (size_t i = 0; i < j.size(); ++i) {
            T item{};
            read(j[i], w.item(named(j[i], i), i), item);
            out.push_back(std::move(item));
        }
    }
    template <class T, size_t N>
    void read(const json& j, const Place& w, std::array<T, N>& out) {
        if (!j.is_array() || j.size() != N)
            return expected(w.words(), ("a list of " + std::to_string(N)).c_str(), j, "write just so many");
        for (size_t i = 0; i < N; ++i) read(j[i], w.item("[" + std::to_string(i) + "]", i), out[i]);
    }
    void read(const json& j, const Place& w, std::map<std::string, double>& out) {
        if (!j.is_object())
            return expected(w.words(), "an object { case: factor }", j, "write { \"G\": 1.0 } or the like");
        out.clear();
        for (auto it = j.begin(); it != j.end(); ++it) read(*it, w.key(it.key()), out[it.key()]);
    }
    void read(const json& j, const Place& w, Bars& out) {
        if (j.is_null()) return;
        Keys unknown;
        Reader r(j.is_object() ? j : empty(), w, unknown, problems_);
        if (!j.is_object())
            expected(w.words(), "{ diameter, spacing }", j, "write { \"diameter\": 16, \"spacing\": 200 }");
        fields(r, out);
        if (out.diameter.has_value() != out.spacing.has_value())
            fault(w.words(), "bars need both a diameter and a spacing",
                  "state both in mm, or neither to have them chosen");
    }
    Circle circle_of(const json& j, const Place& w) {
        Circle c;
        Keys unknown;
        Reader r(j, w, unknown, problems_);
        r("centre", c.centre), r("radius", c.radius);
        return c;
    }
    void read(const json& j, const Place& w, Outline& out) {
        if (j.is_array()) {
            Polygon p;
            read(j, w, p);
            out = p;
        } else if (j.is_object() && j.contains("circle") && j["circle"].is_object()) {
            out = circle_of(j["circle"], w.key("circle"));
        } else if (j.is_object() && j.contains("ring") && j["ring"].is_object()) {
            Ring g;
            Keys unknown;
            Reader r(j["ring"], w.key("ring"), unknown, problems_);
            r("centre", g.centre), r("inner", g.inner), r("outer", g.outer);
            out = g;
        } else {
            expected(w.words(), "a list of points, a circle or a ring", j, "write [[x, y], …] in m");
        }
    }
    void read(const json& j, const Place& w, Shape& out) {
        if (j.is_object() && j.contains("circle") && j["circle"].is_object()) {
            const Circle c = circle_of(j["circle"], w.key("circle"));
            if (!(c.radius > 0) || !std::isfinite(c.radius))
                return fault(w.words(), "the radius is not above zero", "give a number above zero, in m");
            out = Shape(c);
        } else if (j.is_array()) {
            Polygon p;
            read(j, w, p);
            out = Shape(std::move(p));
        } else {
            expected(w.words(), "a list of points or a circle", j, "write [[x, y], …] in m");
        }
    }
    void read(const json& j, const Place& w, LoadItem& out) {
        if (!j.is_object()) return expected(w.words(), "a load item { … }", j, "write an object");
        Reader r(j, w, out.keys, problems_);
        std::string places;
        int n_places = 0;
        for (const char* key : {"column", "point", "line", "wall", "rib", "area", "slab", "uplift_to_level", "pile"})
            if (j.contains(key)) places += (n_places++ ? " and " : "") + std::string(key);
        if (n_places > 1) fault(w.words(), "this load item names " + places, "make an item of each");
        if (j.contains("column")) {
            ColumnLoad l;
            r("column", l.column), r("N", l.N), r("Mx", l.Mx), r("My", l.My), r("Hx", l.Hx), r("Hy", l.Hy);
            out.load = l;
        } else if (j.contains("point")) {
            PointLoad l;
            r("point", l.at), r("N", l.N), r("Mx", l.Mx), r("My", l.My);
            out.load = l;
        } else if (j.contains("line")) {
            LineLoad l;
            r("line", l.path), r("q", l.q);
            out.load = l;
        } else if (j.contains("wall")) {
            WallLoad l;
            r("wall", l.wall), r("q", l.q);
            out.load = l;
        } else if (j.contains("rib")) {
            RibLoad l;
            r("rib", l.rib), r("q", l.q);
            out.load = l;
        } else if (j.contains("area")) {
            AreaLoad l;
            r("area", l.outline), press(r, j, w, l);
            out.load = l;
        } else if (j.contains("slab")) {
            SlabLoad l;
            r.know({"slab"});
            if (j["slab"] != true)
                fault(w.words() + ".slab", "only true is meant here, not " + shown(j["slab"]),
                      "write \"slab\": true for a load on the whole slab, or remove the item");
            press(r, j, w, l);
            out.load = l;
        } else if (j.contains("uplift_to_level")) {
            Uplift l;
            r("uplift_to_level", l.to_level);
            out.load = l;
        } else if (j.contains("pile")) {
            PileLoad l;
            r("pile", l.pile), r("N", l.N);
            out.load = l;
        } else {
            fault(w.words(), "this load item names no place",
                  "give it one of column, point, line, wall, rib, area, slab, uplift_to_level or pile");
        }
        r.keep_unknown();
    }
    // A pressure, or depth × unit weight in its place.
    template <class L>
    void press(Reader& r, const json& j, const Place& w, L& l) {
        if (!j.contains("depth") && !j.contains("unit_weight")) return r("p", l.p);
        FillDepth f;
        r("depth", f.depth), r("unit_weight", f.unit_weight), r("p", l.p);
        if (j.contains("p"))
            fault(w.words(), "this load item gives p beside depth and unit_weight", "keep one of the two");
        for (const char* key : {"depth", "unit_weight"})
            if (!j.contains(key))
                fault(w.words(),
                      std::string("the ") + (key[0] == 'd' ? "depth, m," : "unit weight, kN/m³,") + " is missing",
                      std::string("give \"") + key + "\" beside the other");
        l.fill = f;
    }
    template <class T>
    void read(const json& j, const Place& w, T& out) {
        if (!j.is_object()) return expected(w.words(), "an object { … }", j, "write { } round its keys");
        Reader r(j, w, out.keys, problems_);
        fields(r, out);
        r.keep_unknown();
    }

    static std::string named(const json& j, size_t i) {
        if (j.is_object())
            if (auto it = j.find("id"); it != j.end() && it->is_string()) return "[" + it->get<std::string>() + "]";
        return "[" + std::to_string(i) + "]";
    }
    static const json& empty() {
        static const json e = json::object();
        return e;
    }

    const json& j_;
    Place place_;
    Keys& keys_;
    std::vector<Problem>& problems_;
    std::set<std::string> known_;
};

// The schema is the last word: what the reader let pass but the schema does not is reported in general terms.
void check_against_schema(const json& j, std::vector<Problem>& problems) {
    static const valijson::Schema* schema = [] {
        auto* s = new valijson::Schema;
        const json text = json::parse(model_schema());
        valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(text), *s);
        return s;
    }();
    valijson::Validator validator;
    valijson::ValidationResults results;
    if (validator.validate(*schema, valijson::adapters::NlohmannJsonAdapter(j), &results)) return;
    // The deepest place says most; the outer ones only repeat that something inside is wrong.
    valijson::ValidationResults::Error error, deepest;
    while (results.popError(error))
        if (error.context.size() >= deepest.context.size()) deepest = error;
    std::string where;
    for (std::string c : deepest.context) {
        if (c == "<root>") continue;
        if (c.size() > 2 && c.front() == '[' && c[1] != '"' && !isdigit(c[1])) c = c.substr(1, c.size() - 2);
        where += (where.empty() || c.front() == '[' ? "" : ".") + c;
    }
    problems.push_back({"the value does not fit the format: " + deepest.description,
                        where,
                        "compare with docs/format or `mossbed-cli schema`",
                        Severity::error,
                        {}});
}

std::string place_in(const std::string& text, size_t byte) {
    const size_t end = std::min(byte, text.size());
    const auto line = 1 + std::count(text.begin(), text.begin() + long(end), '\n');
    const size_t start = end == 0 ? std::string::npos : text.rfind('\n', end - 1);
    return "line " + std::to_string(line) + ", column " +
           std::to_string(start == std::string::npos ? end : end - start - 1);
}

std::optional<json> parse(const std::string& text, std::vector<Problem>& problems) {
    const size_t first = text.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (first == std::string::npos || text[first] != '{') {
        problems.push_back(
            {text.empty() ? "the file is empty" : "the file is not a Moss Bed model: it does not start with {",
             "the file",
             "open a file that Moss Bed wrote, or one as docs/format describes",
             Severity::error,
             {}});
        return {};
    }
    struct TooDeep {};
    struct Twice {
        std::string where, key;
    };
    std::vector<std::set<std::string>> seen;  // keys of the objects that are open
    std::vector<std::string> names;           // the key in hand of each
    const auto watch = [&](int depth, json::parse_event_t event, json& parsed) {
        if (depth > 64) throw TooDeep{};
        if (event == json::parse_event_t::object_start) seen.emplace_back(), names.emplace_back();
        if (event == json::parse_event_t::object_end) seen.pop_back(), names.pop_back();
        if (event == json::parse_event_t::key) {
            names.back() = parsed.get<std::string>();
            if (!seen.back().insert(names.back()).second) {
                std::string where;
                for (size_t i = 0; i + 1 < names.size(); ++i) where += (where.empty() ? "" : ".") + names[i];
                throw Twice{where, names.back()};
            }
        }
        return true;
    };
    try {
        return json::parse(text.begin() + long(first), text.end(), watch);
    } catch (const json::parse_error& e) {
        const size_t at = first + e.byte;
        const bool cut = at >= text.find_last_not_of(" \t\r\n\0") + 1;
        problems.push_back(
            {cut ? "the file ends in the middle: it seems to be cut off" : "the text is not JSON from here on",
             place_in(text, at),
             cut ? "take the copy beside it or an older one" : "mend or remove what stands there",
             Severity::error,
             {}});
    } catch (const json::exception&) {
        problems.push_back(
            {"a number is too large to be read", "the file", "write numbers below 1e300", Severity::error, {}});
    } catch (const Twice& t) {
        problems.push_back({"the key \"" + t.key + "\" is given twice, so that one of the two would be lost",
                            t.where.empty() ? "the file" : t.where,
                            "keep the one that is meant",
                            Severity::error,
                            {}});
    } catch (const TooDeep&) {
        problems.push_back({"lists or objects are nested more than 64 deep",
                            "the file",
                            "open a file as docs/format describes",
                            Severity::error,
                            {}});
    }
    return {};
}

}  // namespace

Loaded read_model(const std::string& text) {
    Loaded out;
    const auto j = parse(text, out.problems);
    if (!j) return out;
    auto refuse = [&](const char* where, const std::string& what, const std::string& mend) {
        out.problems.push_back({what, where, mend, Severity::error, {}});
        return out;
    };
    if (!j->contains("format") || (*j)["format"] != "mossbed")
        return refuse("format", "this JSON file is not a Moss Bed model", "its \"format\" must be \"mossbed\"");
    const auto version = j->find("version");
    if (version == j->end() || !version->is_number_integer())
        return refuse("version", "the version is missing", "write \"version\": 1");
    if (*version != 1)
        return refuse("version", "the file has version " + version->dump() + ", this program reads version 1",
                      "open it with a newer Moss Bed");
    if (!j->contains("slab") || !(*j)["slab"].is_object() || !(*j)["slab"].contains("outline"))
        return refuse("slab.outline", "the slab has no outline", "give it a list of points, a circle or a ring");

    Pointers unset;
    if (const auto list = j->find("unset"); list != j->end()) {
        if (!list->is_array() || !std::all_of(list->begin(), list->end(), [](const json& p) { return p.is_string(); }))
            return refuse("unset", "a list of texts is expected here", "write [ ] or remove the key");
        for (const json& p : *list) unset.insert(p.get<std::string>());
    }
    Model m;
    Reader r(*j, Place(unset), m.keys, out.problems);
    r.know({"format", "version", "unset"});
    fields(r, m);
    r.keep_unknown();
    if (!has_errors(out.problems)) check_against_schema(*j, out.problems);
    if (!has_errors(out.problems)) out.model = std::move(m);
    return out;
}

Loaded load_model(const std::string& path) {
    try {
        return read_model(read_text(path));
    } catch (const Trouble& t) {
        return {{}, {t.problem}};
    }
}

}  // namespace mossbed
