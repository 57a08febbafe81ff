#include <nlohmann/json.hpp>
#include <set>

#include "core/file/model_file.h"
#include "core/model/fields.h"

namespace mossbed {
namespace {

using json = nlohmann::ordered_json;

template <class T>
json to_json(const T& thing);
template <class T>
json to_json(const std::vector<T>& v);
json to_json(double v) { return v == std::floor(v) && std::abs(v) < 1e15 ? json(int64_t(v)) : json(v); }
json to_json(bool v) { return v; }
json to_json(const std::string& v) { return v; }
json to_json(const SharedText& v) { return v.str(); }
json to_json(const Point& p) { return json::array({to_json(p.x), to_json(p.y)}); }
template <HasWords E>
json to_json(const E& e) {
    return name_of(e);
}
json to_json(const Bars& b) {
    json j = json::object();
    if (b.diameter) j["diameter"] = to_json(*b.diameter);
    if (b.spacing) j["spacing"] = to_json(*b.spacing);
    return j;
}
json to_json(const LoadItem& item);
template <class T>
json to_json(const std::optional<T>& v) {
    return v ? to_json(*v) : json(nullptr);
}
template <class T>
json to_json(const std::vector<T>& v) {
    json j = json::array();
    for (const T& t : v) j.push_back(to_json(t));
    return j;
}
template <class T, size_t N>
json to_json(const std::array<T, N>& v) {
    json j = json::array();
    for (const T& t : v) j.push_back(to_json(t));
    return j;
}
json to_json(const std::map<std::string, double>& v) {
    json j = json::object();
    for (auto& [k, f] : v) j[k] = to_json(f);
    return j;
}
json to_json(const Circle& c) { return {{"circle", {{"centre", to_json(c.centre)}, {"radius", to_json(c.radius)}}}}; }
json to_json(const Outline& o) {
    if (auto c = std::get_if<Circle>(&o)) return to_json(*c);
    if (auto r = std::get_if<Ring>(&o))
        return {{"ring", {{"centre", to_json(r->centre)}, {"inner", to_json(r->inner)}, {"outer", to_json(r->outer)}}}};
    return to_json(std::get<Polygon>(o));
}

json to_json(const Shape& s) {
    if (const auto c = s.circle()) return to_json(*c);
    return to_json(static_cast<const Polygon&>(s));
}

void put_unknown(json& j, const Keys& keys) {
    for (auto& [key, text] : keys)
        if (!text.empty()) j[key] = json::parse(text);
}

json to_json(const LoadItem& item) {
    json j = json::object();
    auto put = [&](const char* key, double v) {
        if (v != 0 || item.keys.count(key)) j[key] = to_json(v);
    };
    auto press = [&](double p, const std::optional<FillDepth>& fill) {
        if (fill)
            j["depth"] = to_json(fill->depth), j["unit_weight"] = to_json(fill->unit_weight);
        else
            j["p"] = to_json(p);
    };
    if (auto l = std::get_if<ColumnLoad>(&item.load)) {
        j["column"] = l->column;
        j["N"] = to_json(l->N);
        put("Mx", l->Mx), put("My", l->My), put("Hx", l->Hx), put("Hy", l->Hy);
    } else if (auto l = std::get_if<PointLoad>(&item.load)) {
        j["point"] = to_json(l->at);
        j["N"] = to_json(l->N);
        put("Mx", l->Mx), put("My", l->My);
    } else if (auto l = std::get_if<LineLoad>(&item.load)) {
        j["line"] = to_json(l->path);
        j["q"] = to_json(l->q);
    } else if (auto l = std::get_if<WallLoad>(&item.load)) {
        j["wall"] = l->wall, j["q"] = to_json(l->q);
    } else if (auto l = std::get_if<RibLoad>(&item.load)) {
        j["rib"] = l->rib, j["q"] = to_json(l->q);
    } else if (auto l = std::get_if<AreaLoad>(&item.load)) {
        j["area"] = to_json(l->outline), press(l->p, l->fill);
    } else if (auto l = std::get_if<SlabLoad>(&item.load)) {
        j["slab"] = true, press(l->p, l->fill);
    } else if (auto l = std::get_if<Uplift>(&item.load)) {
        j["uplift_to_level"] = to_json(l->to_level);
    } else if (auto l = std::get_if<PileLoad>(&item.load)) {
        j["pile"] = l->pile, j["N"] = to_json(l->N);
    }
    put_unknown(j, item.keys);
    return j;
}

// Collects all fields of one object.
class Writer {
  public:
    explicit Writer(json& j) : j_(j) {}
    template <class T>
    void operator()(const char* key, const T& value, const Facts& facts = {}) {
        j_[key] = to_json(value);
        if (facts.required) required.insert(key);
    }
    void id(const std::string& id) {
        j_["id"] = id;
        required.insert("id");
    }
    void choice(const char* key, const std::string& value, Allowed) { j_[key] = value; }
    void raw(const char* key, const std::string& text) { j_[key] = text.empty() ? json() : json::parse(text); }
    template <class F>
    void group(const char* key, const Keys& keys, F each);
    std::set<std::string> required;  // what must stand in the file, stated or not

  private:
    json& j_;
};

// Under the first key an object names those of its values that nobody set; collect_unset takes them out again. Under
// the second a group of keys without a type of its own carries what its file had.
const char* const marker = "\x01unset";
const char* const group_keys = "\x01keys";

bool says_nothing(const json& j) {  // no value rests on it: nothing, or only objects of nothing
    if (j.is_null() || (j.is_string() && j.get_ref<const std::string&>().empty())) return true;
    return j.is_structured() &&
           std::all_of(j.begin(), j.end(), [&](const json& v) { return j.is_object() && says_nothing(v); });
}

json without_markers(json j) {
    if (j.is_object()) j.erase(marker), j.erase(group_keys);
    for (json& v : j)
        if (v.is_structured()) v = without_markers(std::move(v));
    return j;
}

json plain(const json& j) { return j.is_structured() ? without_markers(j) : j; }

// Every value that numbers rest on stands in the file, so that a program with other defaults reads the same model. What
// equals the default and was not stated is marked as unset.
// `nulls`: "none" is a value that numbers rest on here (a limit, a yield pressure), not just something left out.
json stated_and_unset(const json& mine, const json& standard, const Keys& keys, bool nulls = false) {
    json out = json::object(), unset = json::array();
    for (auto it = mine.begin(); it != mine.end(); ++it) {
        if (it.key() == marker || it.key() == group_keys) continue;
        const bool stated = keys.count(it.key());
        const bool known = standard.contains(it.key());
        const bool is_default =
            known && (it->is_structured() ? plain(standard[it.key()]) == plain(*it) : standard[it.key()] == *it);
        if (!stated && is_default) {
            if (says_nothing(plain(*it)) && !(nulls && it->is_null())) continue;
            out[it.key()] = plain(*it);
            unset.push_back(it.key());
        } else if (it->is_object() && it->contains(group_keys)) {
            out[it.key()] =
                stated_and_unset(*it, known ? standard[it.key()] : json::object(), (*it)[group_keys].get<Keys>());
        } else {
            out[it.key()] = *it;
        }
    }
    put_unknown(out, keys);
    if (!unset.empty()) out[marker] = std::move(unset);
    return out;
}

template <class F>
void Writer::group(const char* key, const Keys& keys, F each) {
    json inner = json::object();
    Writer w(inner);
    each(w);
    inner[group_keys] = keys;
    j_[key] = std::move(inner);
}

template <class T>
json all_fields(const T& thing, Keys* required = nullptr) {
    json j = json::object();
    Writer w(j);
    fields(w, const_cast<T&>(thing));
    if (required)
        for (const std::string& key : w.required) required->emplace(key, "");
    return j;
}

template <class T>
json to_json(const T& thing) {
    constexpr bool nulls = std::is_same_v<T, Ground> || std::is_same_v<T, Limits>;
    Keys stated = thing.keys;
    const json mine = all_fields(thing, &stated);
    return stated_and_unset(mine, all_fields(T{}), stated, nulls);
}

std::string pointer_part(std::string key) {  // RFC 6901
    for (size_t i = 0; i < key.size(); ++i)
        if (key[i] == '~')
            key.replace(i++, 1, "~0");
        else if (key[i] == '/')
            key.replace(i++, 1, "~1");
    return key;
}

void collect_unset(json& j, const std::string& at, json& list) {
    if (j.is_object()) {
        if (const auto it = j.find(marker); it != j.end()) {
            for (const json& key : *it) list.push_back(at + "/" + pointer_part(key.get<std::string>()));
            j.erase(marker);
        }
        for (auto it = j.begin(); it != j.end(); ++it) collect_unset(*it, at + "/" + pointer_part(it.key()), list);
    } else if (j.is_array()) {
        for (size_t i = 0; i < j.size(); ++i)
            if (j[i].is_structured()) collect_unset(j[i], at + "/" + std::to_string(i), list);
    }
}

// As people write it: what is short stands on one line.
void print(const json& j, int depth, std::string& out) {
    const bool deep = depth < 2 && j.is_object() && !j.empty();
    if (!j.is_structured()) {
        out += j.dump(-1, ' ', false, json::error_handler_t::replace);
        return;
    }
    const std::string flat = deep ? "" : j.dump(-1, ' ', false, json::error_handler_t::replace);
    if (j.empty() || (!deep && flat.size() < 110)) {
        bool quoted = false;  // a space after commas and colons, outside texts
        for (size_t i = 0; i < flat.size(); ++i) {
            out += flat[i];
            if (quoted && flat[i] == '\\')
                out += flat[++i];  // an escaped sign, a quote perhaps
            else if (flat[i] == '"')
                quoted = !quoted;
            else if (!quoted && (flat[i] == ',' || flat[i] == ':'))
                out += ' ';
        }
        return;
    }
    const std::string indent(size_t(depth) + 1, ' ');
    out += j.is_object() ? "{\n" : "[\n";
    bool first = true;
    for (auto it = j.begin(); it != j.end(); ++it) {
        if (!first) out += ",\n";
        first = false;
        out += indent;
        if (j.is_object()) out += json(it.key()).dump() + ": ";
        print(*it, depth + 1, out);
    }
    out += "\n" + std::string(size_t(depth), ' ') + (j.is_object() ? "}" : "]");
}

}  // namespace

std::string write_model(const Model& model) {
    json j = json::object();
    j["format"] = "mossbed";
    j["version"] = 1;
    json rest = to_json(model), unset = json::array();
    collect_unset(rest, "", unset);
    for (auto it = rest.begin(); it != rest.end(); ++it) j[it.key()] = std::move(*it);
    if (!unset.empty()) j["unset"] = std::move(unset);
    std::string text;
    print(j, 0, text);
    return text + "\n";
}

void save_model(const Model& model, const std::string& path) { save_text(write_model(model), path); }

}  // namespace mossbed
