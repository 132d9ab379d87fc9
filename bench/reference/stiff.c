/* Stiff problems by the backward differentiation of a general C integrator suite (libsundials-dev, for comparison only). */
#include <cvode/cvode.h>
#include <math.h>
#include <nvector/nvector_serial.h>
#include <string.h>
#include <sunlinsol/sunlinsol_band.h>
#include <sunlinsol/sunlinsol_dense.h>
#include <sunmatrix/sunmatrix_band.h>
#include <sunmatrix/sunmatrix_dense.h>

#define CELLS 250

typedef struct {
  const char *name;
  int n, outputs;
  double end, absolute;
  CVRhsFn f;
  CVLsJacFn jacobian;
  int band;
  void (*start)(double *);
} Problem;

#define Y(i) (NV_Ith_S(y, i))
#define D(i) (NV_Ith_S(d, i))
#define J(i, k) (SM_ELEMENT_D(j, i, k))

static int robertson(double t, N_Vector y, N_Vector d, void *u) {
  D(0) = -0.04 * Y(0) + 1e4 * Y(1) * Y(2);
  D(1) = 0.04 * Y(0) - 1e4 * Y(1) * Y(2) - 3e7 * Y(1) * Y(1);
  D(2) = 3e7 * Y(1) * Y(1);
  return 0;
}
static int robertson_j(double t, N_Vector y, N_Vector f, SUNMatrix j, void *u, N_Vector a, N_Vector b, N_Vector c) {
  J(0, 0) = -0.04; J(0, 1) = 1e4 * Y(2); J(0, 2) = 1e4 * Y(1);
  J(1, 0) = 0.04; J(1, 1) = -1e4 * Y(2) - 6e7 * Y(1); J(1, 2) = -1e4 * Y(1);
  J(2, 1) = 6e7 * Y(1);
  return 0;
}
static void robertson_s(double *y) { y[0] = 1; y[1] = y[2] = 0; }

static int vdp(double t, N_Vector y, N_Vector d, void *u) {
  D(0) = Y(1);
  D(1) = 1000 * (1 - Y(0) * Y(0)) * Y(1) - Y(0);
  return 0;
}
static int vdp_j(double t, N_Vector y, N_Vector f, SUNMatrix j, void *u, N_Vector a, N_Vector b, N_Vector c) {
  J(0, 0) = 0; J(0, 1) = 1;
  J(1, 0) = -2000 * Y(0) * Y(1) - 1; J(1, 1) = 1000 * (1 - Y(0) * Y(0));
  return 0;
}
static void vdp_s(double *y) { y[0] = 2; y[1] = 0; }

static int hires(double t, N_Vector y, N_Vector d, void *u) {
  D(0) = -1.71 * Y(0) + 0.43 * Y(1) + 8.32 * Y(2) + 0.0007;
  D(1) = 1.71 * Y(0) - 8.75 * Y(1);
  D(2) = -10.03 * Y(2) + 0.43 * Y(3) + 0.035 * Y(4);
  D(3) = 8.32 * Y(1) + 1.71 * Y(2) - 1.12 * Y(3);
  D(4) = -1.745 * Y(4) + 0.43 * Y(5) + 0.43 * Y(6);
  D(5) = -280 * Y(5) * Y(7) + 0.69 * Y(3) + 1.71 * Y(4) - 0.43 * Y(5) + 0.69 * Y(6);
  D(6) = 280 * Y(5) * Y(7) - 1.81 * Y(6);
  D(7) = -280 * Y(5) * Y(7) + 1.81 * Y(6);
  return 0;
}
static int hires_j(double t, N_Vector y, N_Vector f, SUNMatrix j, void *u, N_Vector a, N_Vector b, N_Vector c) {
  J(0, 0) = -1.71; J(0, 1) = 0.43; J(0, 2) = 8.32;
  J(1, 0) = 1.71; J(1, 1) = -8.75;
  J(2, 2) = -10.03; J(2, 3) = 0.43; J(2, 4) = 0.035;
  J(3, 1) = 8.32; J(3, 2) = 1.71; J(3, 3) = -1.12;
  J(4, 4) = -1.745; J(4, 5) = 0.43; J(4, 6) = 0.43;
  J(5, 3) = 0.69; J(5, 4) = 1.71; J(5, 5) = -280 * Y(7) - 0.43; J(5, 6) = 0.69; J(5, 7) = -280 * Y(5);
  J(6, 5) = 280 * Y(7); J(6, 6) = -1.81; J(6, 7) = 280 * Y(5);
  J(7, 5) = -280 * Y(7); J(7, 6) = 1.81; J(7, 7) = -280 * Y(5);
  return 0;
}
static void hires_s(double *y) { memset(y, 0, 8 * sizeof(double)); y[0] = 1; y[7] = 0.0057; }

static int orego(double t, N_Vector y, N_Vector d, void *u) {
  D(0) = 77.27 * (Y(1) + Y(0) * (1 - 8.375e-6 * Y(0) - Y(1)));
  D(1) = (Y(2) - (1 + Y(0)) * Y(1)) / 77.27;
  D(2) = 0.161 * (Y(0) - Y(2));
  return 0;
}
static int orego_j(double t, N_Vector y, N_Vector f, SUNMatrix j, void *u, N_Vector a, N_Vector b, N_Vector c) {
  J(0, 0) = 77.27 * (1 - 2 * 8.375e-6 * Y(0) - Y(1)); J(0, 1) = 77.27 * (1 - Y(0));
  J(1, 0) = -Y(1) / 77.27; J(1, 1) = -(1 + Y(0)) / 77.27; J(1, 2) = 1 / 77.27;
  J(2, 0) = 0.161; J(2, 2) = -0.161;
  return 0;
}
static void orego_s(double *y) { y[0] = 1; y[1] = 2; y[2] = 3; }

/* The Brusselator with diffusion along a line, u and v of a cell side by side (Hairer and Wanner II, section IV.10). */
static int bruss(double t, N_Vector y, N_Vector d, void *u) {
  const double *p = NV_DATA_S(y);
  double *q = NV_DATA_S(d);
  const double a = 0.02 * (CELLS + 1.0) * (CELLS + 1.0);
  for (int i = 0; i < CELLS; i++) {
    double x = p[2 * i], z = p[2 * i + 1];
    double xl = i > 0 ? p[2 * i - 2] : 1, xr = i < CELLS - 1 ? p[2 * i + 2] : 1;
    double zl = i > 0 ? p[2 * i - 1] : 3, zr = i < CELLS - 1 ? p[2 * i + 3] : 3;
    q[2 * i] = 1 + x * x * z - 4 * x + a * (xl - 2 * x + xr);
    q[2 * i + 1] = 3 * x - x * x * z + a * (zl - 2 * z + zr);
  }
  return 0;
}
#define B(i, k) (SM_ELEMENT_B(j, i, k))
static int bruss_j(double t, N_Vector y, N_Vector f, SUNMatrix j, void *u, N_Vector v, N_Vector b, N_Vector c) {
  const double *p = NV_DATA_S(y);
  const double a = 0.02 * (CELLS + 1.0) * (CELLS + 1.0);
  for (int i = 0; i < CELLS; i++) {
    double x = p[2 * i], z = p[2 * i + 1];
    B(2 * i, 2 * i) = 2 * x * z - 4 - 2 * a; B(2 * i, 2 * i + 1) = x * x;
    B(2 * i + 1, 2 * i) = 3 - 2 * x * z; B(2 * i + 1, 2 * i + 1) = -x * x - 2 * a;
    if (i > 0) B(2 * i, 2 * i - 2) = B(2 * i + 1, 2 * i - 1) = a;
    if (i < CELLS - 1) B(2 * i, 2 * i + 2) = B(2 * i + 1, 2 * i + 3) = a;
  }
  return 0;
}
static void bruss_s(double *y) {
  for (int i = 0; i < CELLS; i++) {
    y[2 * i] = 1 + sin(2 * 3.141592653589793 * (i + 1) / (CELLS + 1.0));
    y[2 * i + 1] = 3;
  }
}

static Problem problems[] = {
  {"robertson", 3, 3, 1e5, 1e-4, robertson, robertson_j, 0, robertson_s},
  {"vdp", 2, 1, 1500, 1, vdp, vdp_j, 0, vdp_s},
  {"hires", 8, 8, 321.8122, 1e-3, hires, hires_j, 0, hires_s},
  {"orego", 3, 3, 360, 1e-3, orego, orego_j, 0, orego_s},
  {"bruss", 2 * CELLS, 2 * CELLS, 10, 1, bruss, bruss_j, 2, bruss_s},
};

/* Solves one problem, with its exact Jacobian or a differenced one (settings 0 and 1).
   Returns the number of values at the end that are compared, 0 where the suite gives up. */
int solve(const char *name, double tolerance, int differences, double *out) {
  Problem *p = problems;
  while (strcmp(name, p->name)) p++;
  SUNContext context;
  SUNContext_Create(NULL, &context);
  N_Vector y = N_VNew_Serial(p->n, context);
  p->start(NV_DATA_S(y));
  void *memory = CVodeCreate(CV_BDF, context);
  CVodeInit(memory, p->f, 0, y);
  CVodeSetErrFile(memory, NULL);
  CVodeSStolerances(memory, tolerance, tolerance * p->absolute);
  SUNMatrix m = p->band ? SUNBandMatrix(p->n, p->band, p->band, context) : SUNDenseMatrix(p->n, p->n, context);
  SUNLinearSolver s = p->band ? SUNLinSol_Band(y, m, context) : SUNLinSol_Dense(y, m, context);
  CVodeSetLinearSolver(memory, s, m);
  if (!differences) CVodeSetJacFn(memory, p->jacobian);
  CVodeSetMaxNumSteps(memory, 10000000);
  CVodeSetStopTime(memory, p->end);
  double t;
  int flag = CVode(memory, p->end, y, &t, CV_NORMAL);
  memcpy(out, NV_DATA_S(y), p->n * sizeof(double));
  CVodeFree(&memory);
  SUNLinSolFree(s);
  SUNMatDestroy(m);
  N_VDestroy(y);
  SUNContext_Free(&context);
  return flag < 0 ? 0 : p->outputs;
}
