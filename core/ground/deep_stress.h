// What patch forces add to the stress deep below the base. There it is smooth: made at stations of grids whose points,
// and whose levels, lie a quarter of their depth from each other, and interpolated between them (Lagrange), six across
// and four in depth. A wave of pressure leaves stress there that is off by 0.3 % of its height at most, most of all one
// that is about as long as that is deep.
#pragma once
#include <array>
#include <vector>

#include "core/base/dense.h"
#include "core/base/progress.h"
#include "core/ground/contact_patches.h"

namespace mossbed {

// Vertical loads as one sees them from far off: where they are, and second moments about that over area. In single
// precision, from a common middle.
class DistantLoads {
  public:
    void add(Point at, const std::array<double, 3>& spread);
    int count() const { return int(x_.size()); }
    // Δσz at depth z, the mean over an area of these second moments round `at`, under a unit force on each, 1/m²
    // (Boussinesq 1885; two patches by their second moments, see flexibility_row.h).
    void stress(Point at, const std::array<double, 3>& spread, double z, float* out) const;

  private:
    std::vector<float> x_, y_, xx_, xy_, yy_;
};

class DeepStress {
  public:
    struct Depths {
        double z0, z1;  // m below the base, z0 < z1
    };
    // Deeper than this, where no patch is near any more and stations are fewer than patches.
    static double from(const ContactPatches& patches);
    // Means over the area of each patch and over sublayers below it, in whatever order, none above from(). `most`:
    // numbers kept; where they are more, they are made anew each time. Throws Stopped.
    DeepStress(const ContactPatches& patches, const std::vector<std::vector<Depths>>& below, double most,
               const Progress& progress = {});

    using Stresses = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
    // At all stations under patch forces (kN, a column each), kPa.
    Stresses at_stations(const Eigen::MatrixXd& forces, const Progress& progress = {}) const;
    // From these those in the sublayers of a patch, a row each.
    Stresses below(int patch, const Stresses& at_stations) const;
    long stations() const { return long(station_.size()); }
    long numbers_kept() const { return rows_.size(); }

  private:
    static constexpr double apart = 0.25, further = 1.25;  // stations, of their depth; a level than the one above
    static constexpr int across = 6, levels = 4;           // that are interpolated between, each way and in depth
    struct Station {
        Point at;
        double z;
    };
    struct Window {                        // of a patch on a level
        std::array<long, across> station;  // the first one of each row
        std::array<std::array<double, across>, across> weight;
    };
    struct Below {
        int first = 0;  // of its patch's windows
        std::array<double, levels> weight{};
    };
    Below weigh(Depths) const;
    void find_stations(const ContactPatches& patches, const std::vector<int>& first, const std::vector<int>& last,
                       const Progress& progress);
    void row(long station, float* to) const {
        loads_.stress(station_[size_t(station)].at, {}, station_[size_t(station)].z, to);
    }

    std::vector<double> level_;
    std::vector<Station> station_;
    std::vector<long> window_of_, below_of_;  // of a patch the first one
    std::vector<Window> window_;              // level by level
    std::vector<Below> below_;
    DistantLoads loads_;
    RowMatrix rows_;  // a row a station, 1/m²; empty where they are made anew
};

}  // namespace mossbed
