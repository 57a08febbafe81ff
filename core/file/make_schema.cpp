// The JSON Schema of the model file, from the fields of the model (core/model/fields.h).
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/file/schema.h"
#include "core/model/fields.h"

namespace mossbed {
namespace {

using json = nlohmann::ordered_json;

json reference(const char* definition) { return {{"$ref", std::string("#/definitions/") + definition}}; }
json number(double v) { return v == std::floor(v) && std::abs(v) < 1e15 ? json(int64_t(v)) : json(v); }

template <class T>
json object_of(const T& standard);

// The schema of a value of each kind; what follows from its facts is added by `with_facts`.
json kind_of(double v) { return {{"type", "number"}, {"default", number(v)}}; }
json kind_of(bool v) { return {{"type", "boolean"}, {"default", v}}; }
json kind_of(const std::string& v) { return {{"type", "string"}, {"default", v}}; }
json kind_of(const SharedText&) { return {{"type", "string"}, {"default", ""}}; }
json kind_of(const Point&) { return reference("point"); }
json kind_of(const std::vector<Point>&) { return {{"type", "array"}, {"items", reference("point")}}; }
json kind_of(const Outline&) { return reference("outline"); }
json kind_of(const Shape&) { return reference("shape"); }
json kind_of(const LoadItem&) { return reference("load_item"); }
json kind_of(const std::map<std::string, double>&) {
    return {{"type", "object"}, {"additionalProperties", {{"type", "number"}}}};
}
template <HasWords E>
json kind_of(const E& e) {
    return {{"type", "string"}, {"enum", json(Words<E>::all)}, {"default", name_of(e)}};
}
template <class T>
json kind_of(const T& t) {
    return object_of(t);
}
template <class T>
json item_of() {
    json j = kind_of(T{});
    j.erase("default");
    return j;
}
json kind_of(const std::vector<double>& v) {
    json all = json::array();
    for (double d : v) all.push_back(number(d));
    return {{"type", "array"}, {"items", item_of<double>()}, {"default", all}};
}
template <class T>
json kind_of(const std::vector<T>&) {
    return {{"type", "array"}, {"items", item_of<T>()}};
}
template <class T, size_t N>
json kind_of(const std::array<T, N>&) {
    return {{"type", "array"}, {"items", item_of<T>()}, {"minItems", N}, {"maxItems", N}};
}
template <class T>
json kind_of(const std::optional<T>& v) {
    json j = kind_of(v.value_or(T{}));
    if (!v) j["default"] = nullptr;
    if (j.contains("enum")) {
        j["enum"].push_back(nullptr);
        j.erase("type");
    } else {
        j["type"] = json::array({j["type"], nullptr});
        j["type"][1] = "null";
    }
    return j;
}

json with_facts(json j, const Facts& f, bool is_ring) {
    const std::string unit = f.unit == Unit::degrees ? "degrees" : name_of(f.unit), help = f.help;
    std::string text = help.empty() ? f.label : help;
    if (!unit.empty()) text += (text.empty() ? "" : ", ") + unit;
    if (!text.empty()) j["description"] = text;
    if (is_ring) return reference("polygon");
    if (j.contains("$ref")) return j;
    json& range = j.contains("items") ? j["items"] : j;
    if (f.above_least && f.least == 0) range["exclusiveMinimum"] = 0;
    if (f.fewest > 0) j["minItems"] = f.fewest;
    if (f.most_items > 0) j["maxItems"] = f.most_items;
    return j;
}

class SchemaVisitor {
  public:
    template <class T>
    void operator()(const char* key, const T& value, const Facts& facts = {}) {
        const bool is_ring = std::is_same_v<T, Polygon> && facts.fewest == 0;
        properties[key] = with_facts(kind_of(value), facts, is_ring);
        if (!facts.required) return;
        required.push_back(key);
        properties[key].erase("default");  // nothing stands in for it
    }
    void id(const std::string&) {
        properties["id"] = {{"type", "string"}, {"minLength", 1}};
        required.push_back("id");
    }
    void choice(const char* key, const std::string& value, Allowed allowed) {
        properties[key] = {{"type", "string"},
                           {"enum", json(std::vector<std::string>(allowed.begin(), allowed.end()))},
                           {"default", value}};
    }
    void raw(const char* key, const std::string& text) {
        properties[key] = {{"type", "object"}};
        if (!text.empty()) properties[key]["default"] = json::parse(text);
    }
    template <class F>
    void group(const char* key, const Keys&, F each) {
        SchemaVisitor inner;
        each(inner);
        properties[key] = inner.object();
    }
    json object() const {
        json j{{"type", "object"}, {"properties", properties}};
        if (!required.empty()) j["required"] = required;
        return j;
    }
    json properties = json::object(), required = json::array();
};

template <class T>
json object_of(const T& standard) {
    SchemaVisitor v;
    fields(v, const_cast<T&>(standard));
    return v.object();
}

// Shapes of values that are not fields of their own.
const char* const definitions = R"({
 "point": {"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2, "description": "[x, y], m"},
 "polygon": {"type": "array", "items": {"$ref": "#/definitions/point"}, "minItems": 3, "description": "corners, m; not closed"},
 "shape": {"oneOf": [
  {"$ref": "#/definitions/polygon"},
  {"type": "object", "required": ["circle"], "properties": {"circle": {"type": "object", "required": ["centre", "radius"], "properties": {
    "centre": {"$ref": "#/definitions/point"}, "radius": {"type": "number", "exclusiveMinimum": 0, "description": "m"}}}}}]},
 "outline": {"oneOf": [
  {"$ref": "#/definitions/polygon"},
  {"type": "array", "maxItems": 0, "description": "not drawn yet"},
  {"type": "object", "required": ["circle"], "properties": {"circle": {"type": "object", "required": ["centre", "radius"], "properties": {
    "centre": {"$ref": "#/definitions/point"}, "radius": {"type": "number", "exclusiveMinimum": 0, "description": "m"}}}}},
  {"type": "object", "required": ["ring"], "properties": {"ring": {"type": "object", "required": ["centre", "inner", "outer"], "properties": {
    "centre": {"$ref": "#/definitions/point"}, "inner": {"type": "number", "exclusiveMinimum": 0, "description": "m"},
    "outer": {"type": "number", "exclusiveMinimum": 0, "description": "m"}}}}}]},
 "load_item": {"type": "object", "description": "one place and its values", "properties": {
  "column": {"type": "string"}, "point": {"$ref": "#/definitions/point"},
  "line": {"type": "array", "items": {"$ref": "#/definitions/point"}, "minItems": 2},
  "wall": {"type": "string"}, "rib": {"type": "string"}, "pile": {"type": "string"}, "area": {"$ref": "#/definitions/polygon"}, "slab": {"type": "boolean"},
  "uplift_to_level": {"type": "number", "description": "m"},
  "N": {"type": "number", "description": "kN, down", "default": 0},
  "Mx": {"type": "number", "description": "kN·m about +x", "default": 0},
  "My": {"type": "number", "description": "kN·m about +y", "default": 0},
  "Hx": {"type": "number", "description": "kN", "default": 0}, "Hy": {"type": "number", "description": "kN", "default": 0},
  "p": {"type": "number", "description": "kPa, down", "default": 0},
  "depth": {"type": "number", "description": "m, with unit_weight in place of p"},
  "unit_weight": {"type": "number", "description": "kN/m³"}, "q": {"description": "kN/m, down; two values for a line"}}}
})";

}  // namespace

const std::string& model_schema() {
    static const std::string text = [] {
        json model = object_of(Model{});
        json properties{
            {"format", {{"const", "mossbed"}}},
            {"version", {{"const", 1}}},
            {"unset",
             {{"type", "array"},
              {"items", {{"type", "string"}}},
              {"default", json::array()},
              {"description",
               "JSON pointers (RFC 6901) to values that stand in the file but that nobody set: defaults of the program "
               "that wrote it"}}}};
        properties.update(model["properties"]);
        const json schema{{"$schema", "http://json-schema.org/draft-07/schema#"},
                          {"title", "Moss Bed model, version 1"},
                          {"description",
                           "Units: m, kN, kN·m, kPa; MPa for concrete, steel and soil layers; kN/m³ for moduli of "
                           "subgrade reaction and "
                           "unit weights; mm for bars, spacing, cover and crack width; degrees anticlockwise from +x. "
                           "Unknown keys are "
                           "allowed and kept."},
                          {"type", "object"},
                          {"required", {"format", "version", "slab"}},
                          {"definitions", json::parse(definitions)},
                          {"properties", properties}};
        return schema.dump(1) + "\n";
    }();
    return text;
}

}  // namespace mossbed
