#include "core/ground/patch_groups.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <span>

namespace mossbed {
PatchGroups::PatchGroups(const ContactPatches& patches) : row_(size_t(patches.count())), own_(size_t(patches.count())) {
    const int n = patches.count();
    double area = 0;
    for (double a : patches.area) area += a;
    const double side = std::sqrt(area / (2 * std::sqrt(double(n))));
    std::map<std::pair<long, long>, std::vector<int>> by_place;
    for (int i = 0; i < n; ++i) {
        const Point p = patches.centre[size_t(i)];
        by_place[{std::lround(p.x / side), std::lround(p.y / side)}].push_back(i);
    }
    std::map<std::pair<long, long>, int> group_at;
    of_.resize(size_t(n));
    for (const auto& [place, members] : by_place) {
        const int group = group_at[place] = count();
        double whole = 0;
        for (int i : members) whole += patches.area[size_t(i)];
        for (int i : members) {
            of_[size_t(i)] = group, row_[size_t(i)] = long(patch_.size());
            patch_.push_back(i);
            share_.push_back(float(patches.area[size_t(i)] / whole));
        }
        start_.push_back(int(patch_.size()));
    }
    for (const auto& [place, members] : by_place) {
        beside_.emplace_back(), near_.emplace_back();
        for (long x = -1; x <= 1; ++x)
            for (long y = -1; y <= 1; ++y) {
                const auto other = by_place.find({place.first + x, place.second + y});
                if (other == by_place.end()) continue;
                beside_.back().push_back(group_at[other->first]);
                if (x == 0 && y == 0)
                    for (size_t k = 0; k < members.size(); ++k)
                        own_[size_t(members[k])] = count() + long(near_.back().size() + k);
                near_.back().insert(near_.back().end(), other->second.begin(), other->second.end());
            }
    }
    const Point from = box_of(patches.centre).middle();
    for (Point p : patches.centre) at_.push_back(p - from);
    spread_ = patches.spread;
    DistantLoads groups;
    for (size_t g = 0; g + 1 < start_.size(); ++g) {
        const std::span members(patch_.begin() + start_[g], patch_.begin() + start_[g + 1]);
        const float* const share = &share_[size_t(start_[g])];
        Point middle;
        std::array<double, 3> spread{};
        for (size_t k = 0; k < members.size(); ++k) middle = middle + double(share[k]) * at_[size_t(members[k])];
        for (size_t k = 0; k < members.size(); ++k) {
            const Point d = at_[size_t(members[k])] - middle;
            const std::array<double, 3>& own = spread_[size_t(members[k])];
            const std::array of{own[0] + d.x * d.x, own[1] + d.x * d.y, own[2] + d.y * d.y};
            for (size_t q = 0; q < 3; ++q) spread[q] += double(share[k]) * of[q];
        }
        groups.add(middle, spread);
    }
    loads_.assign(near_.size(), groups);
    for (size_t g = 0; g < near_.size(); ++g)
        for (int j : near_[g]) loads_[g].add(at_[size_t(j)], spread_[size_t(j)]);
}

std::vector<long> PatchGroups::lengths() const {
    std::vector<long> out;
    for (int i : patch_) out.push_back(length(i));
    return out;
}

void PatchGroups::shorten(int i, const float* influence, long number, float* rows) const {
    const size_t group = size_t(of_[size_t(i)]);
    const Eigen::Map<const Eigen::VectorXf> share(share_.data(), long(share_.size()));
    Eigen::VectorXf in_order(share.size());
    for (long row = 0; row < number; ++row, influence += patch_.size()) {
        for (size_t k = 0; k < patch_.size(); ++k) in_order[long(k)] = influence[patch_[k]];
        for (size_t g = 0; g + 1 < start_.size(); ++g) {
            const long from = start_[g], size = start_[g + 1] - from;
            rows[g] = in_order.segment(from, size).dot(share.segment(from, size));
        }
        for (int g : beside_[group]) rows[g] = 0;
        rows += count();
        for (int j : near_[group]) *rows++ = influence[j];
    }
}

void PatchGroups::stress(int i, double z, float* row) const {
    const size_t group = size_t(of_[size_t(i)]);
    loads_[group].stress(at_[size_t(i)], spread_[size_t(i)], z, row);
    for (int g : beside_[group]) row[g] = 0;
}

void PatchGroups::add_product(const ShortRows& rows, const Eigen::Ref<const Eigen::VectorXd>& forces,
                              Eigen::Ref<Eigen::VectorXd> out) const {
    const double largest = forces.cwiseAbs().maxCoeff();
    if (!(largest > 0)) return;
    std::vector<float> far, x;
    for (size_t g = 0; g + 1 < start_.size(); ++g) {
        double sum = 0;
        for (int k = start_[g]; k < start_[g + 1]; ++k) sum += forces[patch_[size_t(k)]] / largest;
        far.push_back(float(sum));
    }
    for (size_t g = 0; g + 1 < start_.size(); ++g) {
        x = far;
        for (int j : near_[g]) x.push_back(float(forces[j] / largest));
        x.resize(size_t(ShortRows::padded(long(x.size()))), 0.0f);
        for (int k = start_[g]; k < start_[g + 1]; ++k) out[patch_[size_t(k)]] += largest * rows.times(k, x.data());
    }
}

}  // namespace mossbed
