/**
 * Mass spectrometer readings, in the outlier example of the NIST/SEMATECH e-Handbook of Statistical Methods,
 * 1.3.5.17 (values from memory). Only the last is an outlier; Grubbs’ G is 2.4688.
 */
export const NIST = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57]
