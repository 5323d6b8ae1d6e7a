// The matrices of Oklab (Ottosson 2020, https://bottosson.github.io/posts/oklab/): between them and the other
// side lies a cube root.
#pragma once

namespace juvenor {

struct Rows {
  float row[3][3];
};

/// From linear sRGB to the cubes of the cone responses, and from these, their roots taken, to L, a, b.
inline constexpr Rows kConesOfRgb{{{0.4122214708f, 0.5363325363f, 0.0514459929f},
                                   {0.2119034982f, 0.6806995451f, 0.1073969566f},
                                   {0.0883024619f, 0.2817188376f, 0.6299787005f}}};
inline constexpr Rows kLabOfCones{{{0.2104542553f, 0.7936177850f, -0.0040720468f},
                                   {1.9779984951f, -2.4285922050f, 0.4505937099f},
                                   {0.0259040371f, 0.7827717662f, -0.8086757660f}}};
/// And back.
inline constexpr Rows kConesOfLab{{{1.f, 0.3963377774f, 0.2158037573f},
                                   {1.f, -0.1055613458f, -0.0638541728f},
                                   {1.f, -0.0894841775f, -1.2914855480f}}};
inline constexpr Rows kRgbOfCones{{{4.0767416621f, -3.3077115913f, 0.2309699292f},
                                   {-1.2684380046f, 2.6097574011f, -0.3413193965f},
                                   {-0.0041960863f, -0.7034186147f, 1.7076147010f}}};

}  // namespace juvenor
