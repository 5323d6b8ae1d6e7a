// Tables of the CIE as the package colord-data ships them.
#pragma once

#include <QtGlobal>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <sstream>
#include <string>
#include <vector>

namespace juvenor::test {

// The rows of numbers of a colord table, and the wavelength of the first.
struct ColordTable {
  double start = 0, step = 5;
  std::vector<std::vector<double>> rows;

  double at(size_t row, double nm) const {
    return rows[row][static_cast<size_t>(std::lround((nm - start) / step))];
  }
};

inline ColordTable colordTable(const std::string& file) {
  std::ifstream in(file);
  if (!in) qFatal("colord-data is not installed: %s", file.c_str());
  ColordTable out;
  std::string line;
  bool data = false;
  double end = 0;
  while (std::getline(in, line)) {
    std::istringstream words(line);
    std::string key;
    const auto figure = [&] {
      std::string number;
      words >> key >> number;
      number.erase(std::remove(number.begin(), number.end(), '"'), number.end());
      return std::stod(number);
    };
    if (line.starts_with("SPECTRAL_START_NM")) out.start = figure();
    if (line.starts_with("SPECTRAL_END_NM")) end = figure();
    if (line.starts_with("SPECTRAL_BANDS")) out.step = (end - out.start) / (figure() - 1);
    if (line.starts_with("BEGIN_DATA_FORMAT")) continue;
    if (line.starts_with("END_DATA")) data = false;
    if (data) {
      std::vector<double> row;
      for (double v; words >> v;) row.push_back(v);
      out.rows.push_back(row);
    }
    if (line.starts_with("BEGIN_DATA")) data = true;
  }
  return out;
}

}  // namespace juvenor::test
