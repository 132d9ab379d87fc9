/* Problems for explicit methods by Dormand-Prince 5(4) with proportional-integral step control and dense output, written by hand for each
   problem as one would without a simulator: events by root location on the dense output, samples by restarts, delays by kept steps. */
#include <math.h>
#include <string.h>

#define MOST 1000

typedef void (*Slopes)(double t, const double *x, double *dx);

static const double A[7][6] = {{0}, {0.2}, {3.0 / 40, 9.0 / 40}, {44.0 / 45, -56.0 / 15, 32.0 / 9},
  {19372.0 / 6561, -25360.0 / 2187, 64448.0 / 6561, -212.0 / 729}, {9017.0 / 3168, -355.0 / 33, 46732.0 / 5247, 49.0 / 176, -5103.0 / 18656},
  {35.0 / 384, 0, 500.0 / 1113, 125.0 / 192, -2187.0 / 6784, 11.0 / 84}};
static const double C[7] = {0, 0.2, 0.3, 0.8, 8.0 / 9, 1, 1};
static const double E[7] = {71.0 / 57600, 0, -71.0 / 16695, 71.0 / 1920, -17253.0 / 339200, 22.0 / 525, -1.0 / 40};
static const double D[7] = {-12715105075.0 / 11282082432, 0, 87487479700.0 / 32700410799, -10690763975.0 / 1880347072,
  701980252875.0 / 199316789632, -1453857185.0 / 822651844, 69997945.0 / 29380423};

static double k[7][MOST], x[MOST], y[MOST], from[MOST], tolerance, step, old, start, length;
static int n, fresh, rejected;

/* One accepted step, at most to the limit; returns its end. */
static double advance(Slopes f, double t, double limit) {
  if (fresh) { f(t, x, k[0]); fresh = 0; rejected = 0; }
  for (;;) {
    double h = step, err = 0;
    int ends = t + 1.01 * h >= limit;
    if (ends) h = limit - t;
    for (int s = 1; s < 7; s++) {
      for (int i = 0; i < n; i++) {
        double sum = 0;
        for (int j = 0; j < s; j++) sum += A[s][j] * k[j][i];
        y[i] = x[i] + h * sum;
      }
      f(t + C[s] * h, y, k[s]);
    }
    for (int i = 0; i < n; i++) {
      double e = 0;
      for (int j = 0; j < 7; j++) e += E[j] * k[j][i];
      e *= h / (tolerance + tolerance * fmax(fabs(x[i]), fabs(y[i])));
      err += e * e;
    }
    err = sqrt(err / n);
    if (err <= 1) {
      double factor = fmin(5, fmax(0.2, 0.9 * pow(old, 0.04) / pow(fmax(err, 1e-10), 0.17))), next = h * factor;
      if (rejected && next > h) next = h;
      old = fmax(err, 1e-4);
      rejected = 0;
      if (!ends || next > step) step = next;
      memcpy(from, x, n * sizeof *x);
      memcpy(x, y, n * sizeof *x);
      start = t;
      length = h;
      return ends ? limit : t + h;
    }
    step = h * fmax(0.2, 0.9 / pow(err, 0.17));
    rejected = 1;
  }
}

static void next_step(void) { memcpy(k[0], k[6], n * sizeof(double)); }

/* The dense output's coefficients of one state in the last step. */
static void dense(int i, double *r) {
  double difference = x[i] - from[i], slope = length * k[0][i] - difference, sum = 0;
  for (int j = 0; j < 7; j++) sum += D[j] * k[j][i];
  r[0] = from[i]; r[1] = difference; r[2] = slope; r[3] = difference - length * k[6][i] - slope; r[4] = length * sum;
}
static double inside(const double *r, double u) { return r[0] + u * (r[1] + (1 - u) * (r[2] + u * (r[3] + (1 - u) * r[4]))); }

static void begin(double first) { step = first; old = 1e-4; fresh = 1; }

static void smooth(Slopes f, double end) {
  begin(1e-4);
  for (double t = 0; t < end;) { t = advance(f, t, end); next_step(); }
}

/* Arenstorf's orbit (Hairer, Norsett and Wanner I, section II.0). */
static void orbit_f(double t, const double *x, double *dx) {
  const double mu = 0.012277471, rest = 1 - mu;
  double a = (x[0] + mu) * (x[0] + mu) + x[1] * x[1], b = (x[0] - rest) * (x[0] - rest) + x[1] * x[1];
  double p = rest / (a * sqrt(a)), q = mu / (b * sqrt(b));
  dx[0] = x[2]; dx[1] = x[3];
  dx[2] = x[0] + 2 * x[3] - p * (x[0] + mu) - q * (x[0] - rest);
  dx[3] = x[1] - 2 * x[2] - p * x[1] - q * x[1];
}
static void orbit(void) { n = 4; x[0] = 0.994; x[1] = x[2] = 0; x[3] = -2.00158510637908252240537862224; smooth(orbit_f, 17.0652165601579625588917206249); }

/* Seven stars in the plane (same book, section II.10). */
static void stars_f(double t, const double *x, double *dx) {
  for (int i = 0; i < 7; i++) {
    double a = 0, b = 0;
    for (int j = 0; j < 7; j++) {
      if (j == i) continue;
      double u = x[j] - x[i], v = x[7 + j] - x[7 + i], r = u * u + v * v, w = (j + 1) / (r * sqrt(r));
      a += w * u; b += w * v;
    }
    dx[i] = x[14 + i]; dx[7 + i] = x[21 + i]; dx[14 + i] = a; dx[21 + i] = b;
  }
}
static void stars(void) {
  static const double s[28] = {3, 3, -1, -3, 2, -2, 2, 3, -3, 2, 0, 0, -4, 4, 0, 0, 0, 0, 0, 1.75, -1.5, 0, 0, 0, -1.25, 1, 0, 0};
  n = 28; memcpy(x, s, sizeof s); smooth(stars_f, 3);
}

/* A hundred masses in a row, shaken at one end. */
static void chain_f(double t, const double *x, double *dx) {
  const double kk = 40, d = 0.3, m = 1.5;
  double before = kk * (sin(t) - x[0]) + d * (cos(t) - x[100]);
  for (int i = 0; i < 100; i++) {
    double after = i < 99 ? kk * (x[i] - x[i + 1]) + d * (x[100 + i] - x[101 + i]) : 0;
    dx[i] = x[100 + i]; dx[100 + i] = (before - after) / m;
    before = after;
  }
}
static void chain(void) { n = 200; memset(x, 0, 200 * sizeof *x); smooth(chain_f, 20); }

/* A large causal diagram: 900 blocks in 300 stages of sum, gain and lag, with feedback from every third lag to the stage before. */
static void causal_f(double t, const double *x, double *dx) {
  for (int i = 0; i < 300; i++) {
    double s = (i > 0 ? x[i - 1] : sin(t)) - (i % 3 == 0 && i < 299 ? 0.4 * x[i + 1] : 0), g = 0.98 * s;
    dx[i] = (g - x[i]) / (0.2 + 0.001 * (i + 1));
  }
}
static void causal(void) { n = 300; memset(x, 0, 300 * sizeof *x); smooth(causal_f, 20); }

/* Sampled control: a third-order plant under a sampled PI controller, 100 samples a second, 20 s. */
static double command;
static void sampled_f(double t, const double *x, double *dx) {
  dx[0] = (command - x[0]) / 0.02; dx[1] = (2 * x[0] - x[1]) / 0.3; dx[2] = (x[1] - x[2]) / 0.5 + 0.1 * sin(3 * t);
}
static void sampled(void) {
  double integral = 0;
  n = 3; x[0] = x[1] = x[2] = 0;
  begin(1e-4);
  for (int s = 0; s < 2000; s++) {
    double e = 1 - x[2], t = s * 0.01, end = (s + 1) * 0.01;
    integral += 0.01 * 1.2 * e;
    command = 0.9 * e + integral;
    fresh = 1;
    while (t < end) { t = advance(sampled_f, t, end); next_step(); }
  }
}

/* Many events: a relay with hysteresis switches an oscillating plant some 700 times. */
static int on;
static void relay_f(double t, const double *x, double *dx) { dx[0] = x[1]; dx[1] = (on ? 30 : -30) - 4 * x[0] - 0.8 * x[1]; }
static void relay(void) {
  const double end = 200;
  n = 2; x[0] = x[1] = 0; on = 1;
  begin(1e-4);
  for (double t = 0; t < end;) {
    double after = advance(relay_f, t, end), limit = on ? 1 : -1, sign = on ? 1 : -1;
    if (sign * (x[0] - limit) < 0) { next_step(); t = after; continue; }
    double r[5], lower = 0, upper = 1, low, high;
    dense(0, r);
    low = sign * (inside(r, 0) - limit); high = sign * (inside(r, 1) - limit);
    for (int i = 0; i < 100 && upper - lower > 1e-15; i++) {
      double middle = lower - low * (upper - lower) / (high - low), value;
      if (i % 3 == 2) middle = 0.5 * (lower + upper);
      value = sign * (inside(r, middle) - limit);
      if (value < 0) { lower = middle; low = value; } else { upper = middle; high = value; }
      if (value == 0) break;
    }
    double r1[5];
    dense(1, r1);
    x[0] = inside(r, upper); x[1] = inside(r1, upper);
    t = start + upper * length;
    on = !on;
    begin(step);
  }
}

/* A delay in a loop with nonlinear feedback: x' = 0.2 x(t - 6) / (1 + x(t - 6)^10) - 0.1 x, 0.5 before the start. */
static struct { double t, h, r[5]; } kept[200000];
static int count, place;
static double past(double t) {
  if (t <= 0) return 0.5;
  while (place > 0 && kept[place].t > t) place--;
  while (place < count - 1 && kept[place].t + kept[place].h < t) place++;
  return inside(kept[place].r, (t - kept[place].t) / kept[place].h);
}
static void delayed_f(double t, const double *x, double *dx) {
  double d = past(t - 6), d2 = d * d, d4 = d2 * d2;
  dx[0] = 0.2 * d / (1 + d4 * d4 * d2) - 0.1 * x[0];
}
static void delayed(void) {
  n = 1; x[0] = 0.5; count = place = 0;
  begin(1e-4);
  for (double t = 0; t < 300;) {
    /* The kink at the start comes back smoother and smoother at multiples of the delay. */
    double limit = 300;
    for (int i = 1; i <= 6; i++) if (t < 6.0 * i) { limit = 6.0 * i; break; }
    if (step > 6) step = 6;
    t = advance(delayed_f, t, limit);
    kept[count].t = start; kept[count].h = length;
    dense(0, kept[count].r);
    count++;
    next_step();
  }
}

static struct { const char *name; void (*run)(void); int outputs; } problems[] = {
  {"orbit", orbit, 2}, {"stars", stars, 14}, {"chain", chain, 100}, {"causal", causal, 300}, {"sampled", sampled, 3}, {"relay", relay, 2}, {"delayed", delayed, 1}};

/* Solves one problem; there is only setting 0. Returns the number of values at the end that are compared. */
int solve(const char *name, double allowed, int setting, double *out) {
  int p = 0;
  while (strcmp(name, problems[p].name)) p++;
  tolerance = allowed;
  problems[p].run();
  memcpy(out, x, problems[p].outputs * sizeof *x);
  return problems[p].outputs;
}
