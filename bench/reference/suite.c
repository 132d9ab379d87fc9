/* The problems of explicit.c by a general C integrator suite (libsundials-dev, for comparison only): its root finding for events, its
   restart for samples. It has no delays. */
#include <cvode/cvode.h>
#include <nvector/nvector_serial.h>
#include <sunlinsol/sunlinsol_dense.h>
#include <sunmatrix/sunmatrix_dense.h>
#include <sunnonlinsol/sunnonlinsol_fixedpoint.h>
#define solve by_hand
#include "explicit.c"
#undef solve

static Slopes f;
static int slopes(double t, N_Vector y, N_Vector d, void *user) { f(t, NV_DATA_S(y), NV_DATA_S(d)); return 0; }
static int limit(double t, N_Vector y, double *g, void *user) { *g = NV_Ith_S(y, 0) - (on ? 1 : -1); return 0; }

static int run(void *memory, N_Vector y, double end) {
  double t;
  CVodeSetStopTime(memory, end);
  return CVode(memory, end, y, &t, CV_NORMAL);
}

static int samples(void *memory, N_Vector y) {
  double integral = 0, *v = NV_DATA_S(y);
  for (int s = 0; s < 2000; s++) {
    double e = 1 - v[2];
    integral += 0.01 * 1.2 * e;
    command = 0.9 * e + integral;
    CVodeReInit(memory, s * 0.01, y);
    int flag = run(memory, y, (s + 1) * 0.01);
    if (flag < 0) return flag;
  }
  return 0;
}

static int switches(void *memory, N_Vector y, double end) {
  double t = 0;
  CVodeSetStopTime(memory, end);
  while (t < end) {
    int flag = CVode(memory, end, y, &t, CV_NORMAL);
    if (flag < 0) return flag;
    if (flag != CV_ROOT_RETURN) break;
    on = !on;
    CVodeReInit(memory, t, y);
    CVodeSetStopTime(memory, end);
  }
  return 0;
}

static struct { const char *name; Slopes f; double end; int n, outputs; } all[] = {
  {"orbit", orbit_f, 17.0652165601579625588917206249, 4, 2}, {"stars", stars_f, 3, 28, 14}, {"chain", chain_f, 20, 200, 100},
  {"causal", causal_f, 20, 300, 300}, {"sampled", sampled_f, 20, 3, 3}, {"relay", relay_f, 200, 2, 2}};

/* Solves one problem, by Adams' methods with functional iteration or by backward differentiation with Newton's (settings 0 and 1).
   Returns the number of values at the end that are compared, 0 where the suite gives up. */
int solve(const char *name, double allowed, int setting, double *out) {
  int p = 0;
  while (strcmp(name, all[p].name)) p++;
  SUNContext context;
  SUNContext_Create(NULL, &context);
  N_Vector y = N_VNew_Serial(all[p].n, context);
  double *v = NV_DATA_S(y);
  memset(v, 0, all[p].n * sizeof *v);
  if (p == 0) { v[0] = 0.994; v[3] = -2.00158510637908252240537862224; }
  if (p == 1) {
    static const double s[28] = {3, 3, -1, -3, 2, -2, 2, 3, -3, 2, 0, 0, -4, 4, 0, 0, 0, 0, 0, 1.75, -1.5, 0, 0, 0, -1.25, 1, 0, 0};
    memcpy(v, s, sizeof s);
  }
  f = all[p].f;
  on = 1;
  void *memory = CVodeCreate(setting ? CV_BDF : CV_ADAMS, context);
  CVodeInit(memory, slopes, 0, y);
  CVodeSetErrFile(memory, NULL);
  CVodeSStolerances(memory, allowed, allowed);
  CVodeSetMaxNumSteps(memory, 10000000);
  SUNMatrix m = setting ? SUNDenseMatrix(all[p].n, all[p].n, context) : NULL;
  SUNLinearSolver linear = setting ? SUNLinSol_Dense(y, m, context) : NULL;
  SUNNonlinearSolver fixed = setting ? NULL : SUNNonlinSol_FixedPoint(y, 0, context);
  if (setting) CVodeSetLinearSolver(memory, linear, m);
  else CVodeSetNonlinearSolver(memory, fixed);
  if (f == relay_f) CVodeRootInit(memory, 1, limit);
  int flag = f == sampled_f ? samples(memory, y) : f == relay_f ? switches(memory, y, all[p].end) : run(memory, y, all[p].end);
  memcpy(out, v, all[p].outputs * sizeof *v);
  CVodeFree(&memory);
  if (linear) SUNLinSolFree(linear);
  if (m) SUNMatDestroy(m);
  if (fixed) SUNNonlinSolFree(fixed);
  N_VDestroy(y);
  SUNContext_Free(&context);
  return flag < 0 ? 0 : all[p].outputs;
}
