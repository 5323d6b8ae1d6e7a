// Small positive definite systems, as fits by least squares come to: Cholesky's factors in plain loops.
// (Eigen unrolls those of fixed size until a file of fits takes minutes to compile.)
#pragma once

#include <cmath>

#include "core/vec.h"

namespace juvenor {

/// x with normal · x = right; not finite where the system is not positive definite.
template <int N>
Eigen::Matrix<double, N, 1> solvedNormal(const Eigen::Matrix<double, N, N>& normal,
                                         const Eigen::Matrix<double, N, 1>& right) {
  Eigen::Matrix<double, N, N> factor;
  Eigen::Matrix<double, N, 1> x;
  for (int i = 0; i < N; ++i)
    for (int j = 0; j <= i; ++j) {
      double sum = normal(i, j);
      for (int k = 0; k < j; ++k) sum -= factor(i, k) * factor(j, k);
      factor(i, j) = i == j ? std::sqrt(sum) : sum / factor(j, j);
    }
  for (int i = 0; i < N; ++i) {
    x[i] = right[i];
    for (int k = 0; k < i; ++k) x[i] -= factor(i, k) * x[k];
    x[i] /= factor(i, i);
  }
  for (int i = N; i-- > 0;) {
    for (int k = i + 1; k < N; ++k) x[i] -= factor(k, i) * x[k];
    x[i] /= factor(i, i);
  }
  return x;
}

/// Adds one row's part, times its weight.
template <int N>
void addRow(const Eigen::Matrix<double, N, 1>& row, double wanted, double weight,
            Eigen::Matrix<double, N, N>& normal, Eigen::Matrix<double, N, 1>& right) {
  for (int i = 0; i < N; ++i) {
    for (int j = 0; j < N; ++j) normal(i, j) += weight * row[i] * row[j];
    right[i] += weight * wanted * row[i];
  }
}

}  // namespace juvenor
