#include "core/ground/patch_groups.h"

#include <map>

namespace mossbed {

PatchGroups::PatchGroups(const ContactPatches& patches) {
    const size_t n = size_t(patches.count());
    double area = 0;
    for (double a : patches.area) area += a;
    const double side = std::sqrt(area / (2 * std::sqrt(double(n))));
    std::map<std::pair<long, long>, int> at;
    for (size_t i = 0; i < n; ++i) {
        const Point p = patches.centre[i];
        const auto [it, is_new] = at.try_emplace({std::lround(p.x / side), std::lround(p.y / side)}, count());
        if (is_new) members_.emplace_back();
        of_.push_back(it->second);
        members_[size_t(it->second)].push_back(int(i));
    }
    near_.resize(members_.size()), beside_.resize(members_.size()), own_.resize(n), share_.resize(n);
    for (const auto& [place, group] : at) {
        for (long x = -1; x <= 1; ++x)
            for (long y = -1; y <= 1; ++y)
                if (const auto it = at.find({place.first + x, place.second + y}); it != at.end())
                    beside_[size_t(group)].push_back(it->second);
        std::vector<int>& near = near_[size_t(group)];
        double whole = 0;
        for (int i : members_[size_t(group)]) whole += patches.area[size_t(i)];
        for (int other : beside_[size_t(group)])
            for (int i : members_[size_t(other)]) {
                if (other == group) {
                    own_[size_t(i)] = count() + long(near.size());
                    share_[size_t(i)] = float(patches.area[size_t(i)] / whole);
                }
                near.push_back(i);
            }
    }
}

void PatchGroups::shorten(int i, const float* influence, float* row) const {
    const size_t group = size_t(of_[size_t(i)]);
    std::fill(row, row + count(), 0.0f);
    for (size_t j = 0; j < of_.size(); ++j) row[of_[j]] += share_[j] * influence[j];
    for (int beside : beside_[group]) row[beside] = 0;
    float* to = row + count();
    for (int j : near_[group]) *to++ = influence[j];
}

void PatchGroups::add_product(const ShortRows& rows, const Eigen::Ref<const Eigen::VectorXd>& forces,
                              Eigen::Ref<Eigen::VectorXd> out) const {
    const double largest = forces.cwiseAbs().maxCoeff();
    if (!(largest > 0)) return;
    std::vector<double> sums(members_.size(), 0.0);
    for (size_t j = 0; j < of_.size(); ++j) sums[size_t(of_[j])] += forces[long(j)] / largest;
    const std::vector<float> far(sums.begin(), sums.end());
    std::vector<float> x;
    for (size_t group = 0; group < members_.size(); ++group) {
        x = far;
        for (int j : near_[group]) x.push_back(float(forces[j] / largest));
        x.resize(size_t(ShortRows::padded(long(x.size()))), 0.0f);
        for (int i : members_[group]) out[i] += largest * rows.times(i, x.data());
    }
}

}  // namespace mossbed
