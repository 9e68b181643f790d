/* The kernel of core/simulation/kernel.py and steps.py in C, step by step, to measure what its compilation from Python costs.
 * Only `sorvek bench` builds and calls it. Array layouts: see core/simulation/columns.py.
 */
#include <math.h>

#define MAXR 12
#include "constants.h" /* written by twin.py from core/constants.py */

enum { REPS, TIE, SLOT, ROUND, NEXT, COUNTED, N_SEG_I };
enum { REST_BEFORE, OPENS, DEADLINE, PART_CAP, N_SEG_F };
enum { CYCLE, SETUP, SINGLE, STEADY, POWER, COEFFICIENT, SKILL, TRIPS, FASTEST, NO_REP, WEIGHTS };
enum { CP, W_PRIME, SLIP, SPEED, CHANGES, NO_REPS, N_WHO };
enum { FIRST_SIZE, N_SIZES, VARIANT };
enum { REST, PACE, LEAD };
enum { O_TIME, O_DONE, O_PARTIAL, O_FINISHED, O_FAILED, O_FORCED_S, O_SHORTFALL, O_TIE_TIME, O_STUCK, O_N_TRIPS, O_WORK_LEFT, O_REACHED, O_STEPS, O_HOT_S, O_TIE_DONE, N_OUT };

typedef long long i64;
static const double LONG_S = 1e8;

static inline double larger(double a, double b) { return a > b ? a : b; }
static inline double smaller(double a, double b) { return a < b ? a : b; }

static inline double decay(double x) {
    double y = 0.125 * smaller(x, 32.0), even = 120.0 + 12.0 * y * y, odd = y * (60.0 + y * y);
    double q = (even - odd) / (even + odd);
    q *= q;
    q *= q;
    return q * q;
}

static inline double ceiling(double f) { return 1.0 - CEILING_DROP * (1.0 - decay(f * (1.0 / CEILING_SCALE))); }

static double recover(double dt, double *b, double *f, int n, double w, double w_prime, double cp) {
    double pace = dt / (1.0 + TAU_SLOWING * (1.0 - w / w_prime)), fade = decay(dt * (1.0 / FATIGUE_TAU_S));
    for (int r = 0; r < n; r++) {
        b[r] += larger(0.0, ceiling(f[r]) - b[r]) * (1.0 - decay(pace * RATE[r]));
        f[r] *= fade;
    }
    return w_prime - (w_prime - w) * decay(cp * dt / w_prime);
}

/* q^n and 1 + q + ... + q^(n-1) for n of 4 or 8. */
static inline void powers(double q, int n, double *power, double *terms) {
    double squared = q * q;
    *power = squared * squared;
    *terms = (1.0 + q) * (1.0 + squared);
    if (n == 8) { *terms *= 1.0 + *power; *power *= *power; }
}

static inline double deep(double b) {
    double depth = larger(0.0, 1.0 - b), cubed = depth * depth * depth;
    return 1.0 + DEPTH_COST * cubed * cubed;
}

static double reserve(const double *b, const double *per_k, int n) {
    double rir = 1e9;
    for (int r = 0; r < n; r++) rir = smaller(rir, b[r] * per_k[r]);
    return rir;
}

void simulate(const i64 *seg_i, const double *seg_f, i64 n_seg, const double *variants, i64 n_col, const double *us,
              const double *who, const i64 *choice_i, const double *choice_f, const i64 *sizes, double *out) {
    int n = (int)n_col - WEIGHTS;
    double b[MAXR], f[MAXR], k[MAXR], left_f[MAXR], per_k[MAXR], open_[MAXR], top[MAXR], gain[MAXR];
    for (int r = 0; r < n; r++) { b[r] = 1.0; f[r] = 0.0; top[r] = 1.0; }
    double w_prime = who[W_PRIME], w = w_prime, cp = who[CP], wear = 0, t = 0, partial = 0, forced = 0, shortfall = 0, tie = 0;
    double lap_begin = 0, first_lap = 0, last_lap = 0, laps_s = 0, laps = 0, hot = 0;
    double trips = 0, finished = 1, found_stuck = 0, deadline = 0, part_s = 0;
    i64 ahead = 0, done = 0, failed = 0, reached = 0, steps = 0, tie_done = 0;
    int stuck = 0, stop = 0;
    double per_w_prime = 1.0 / w_prime, breath_j = BREATH_FRAC * w_prime, wear_j = WEAR_FRAC * w_prime;
    double per_breath = 1.0 / breath_j, per_wear = 1.0 / wear_j;
    for (i64 s = 0; s < n_seg; s++) {
        if (s < ahead) continue;
        reached = s;
        i64 lap = seg_i[s * N_SEG_I + ROUND], before_lap = s > 0 ? seg_i[(s - 1) * N_SEG_I + ROUND] : lap;
        if (lap != before_lap) {
            if (before_lap == 1) { first_lap = t - lap_begin; last_lap = laps_s = laps = 0; }
            else if (before_lap > 1) {
                if (before_lap > 2) { laps_s += last_lap; laps += 1; }
                last_lap = t - lap_begin;
            }
            if (lap <= 1 && laps > 0) { hot += larger(0.0, EVEN_FRAC * laps_s / laps - first_lap); laps = 0; }
            lap_begin = t + seg_f[s * N_SEG_F + REST_BEFORE];
        }
        deadline = seg_f[s * N_SEG_F + DEADLINE];
        i64 v = choice_i[s * 3 + VARIANT];
        const double *row = variants + v * n_col;
        double u = us[v], lasting = u * u * u / (u * u * u + LASTING_HALF_U * LASTING_HALF_U * LASTING_HALF_U), cycle = row[CYCLE] * who[SPEED], setup = row[SETUP], single_s = row[SINGLE] * who[SPEED];
        double again = 1.0 + row[NO_REP] * who[NO_REPS];
        int steady = row[STEADY] > 0, kind = (int)row[POWER];
        double coefficient = row[COEFFICIENT], pace = choice_f[s * 3 + PACE], rest_s = choice_f[s * 3 + REST];
        double slower = steady ? larger(0.0, pace - 1.0) : 0.0, margin = smaller(MARGIN_REPS, MARGIN_U_FRAC * u);
        double pause = seg_f[s * N_SEG_F + REST_BEFORE];
        if (seg_f[s * N_SEG_F + OPENS] > t + pause) pause = seg_f[s * N_SEG_F + OPENS] - t;
        double rested_s = t + pause;
        if (pause > 0 || s == 0) pause = fmax(pause, setup);
        else pause = choice_f[s * 3 + LEAD] + setup + (who[CHANGES] - 1.0) * (setup + TRANSITION_S);
        w = recover(pause, b, f, n, w, w_prime, cp);
        t += pause;
        i64 next = seg_i[s * N_SEG_I + NEXT];
        if (seg_f[s * N_SEG_F + PART_CAP] > 0) {
            if (s == 0 || seg_i[(s - 1) * N_SEG_I + NEXT] != next) part_s = rested_s;
            deadline = smaller(deadline, part_s + seg_f[s * N_SEG_F + PART_CAP]);
        }
        if (t >= deadline) {
            t = deadline;
            finished = 0;
            if (!next) break;
            ahead = next;
            continue;
        }
        i64 reps = seg_i[s * N_SEG_I + REPS], begun = 0, counted = seg_i[s * N_SEG_I + COUNTED], done_before = done;
        int was_single = 0;
        for (i64 j = 0; j < choice_i[s * 3 + N_SIZES]; j++) {
            i64 size = sizes[choice_i[s * 3 + FIRST_SIZE] + j];
            if (size > reps - begun) size = reps - begun;
            if (size <= 0) break;
            int is_single = size == 1 && single_s > 0 && reps > 1;
            if (j == 0 || is_single != was_single) {
                double relief = again * (is_single ? SINGLE_RELIEF : 1.0) / larger(u, 1e-6);
                for (int r = 0; r < n; r++) {
                    double weight = row[WEIGHTS + r];
                    k[r] = weight * relief;
                    per_k[r] = 1.0 / larger(k[r], 1e-12);
                    left_f[r] = lasting * k[r];
                    open_[r] = 12.0 * ((1.0 - weight) * (1.0 - weight) + slower) / (1.0 + slower);
                }
            }
            if (j > 0) {
                int quick = is_single && was_single;
                double gap = rest_s + (rest_s > 0 && !quick ? REST_SLIP_S * who[SLIP] : 0.0);
                gap += quick ? single_s - cycle : setup;
                if (deadline - t <= LAST_PUSH_S && reserve(b, per_k, n) >= 1.0) gap = is_single ? 0.0 : setup;
                w = recover(gap, b, f, n, w, w_prime, cp);
                t += gap;
                if (t >= deadline) { t = deadline; finished = 0; stop = 1; break; }
                if (!is_single) {
                    double restart = RESTART_REPS * u / (u + RESTART_HALF_U);
                    for (int r = 0; r < n; r++) b[r] = fmax(0.0, b[r] - restart * k[r]);
                }
            }
            was_single = is_single;
            i64 here = 0, refreshed = -8;
            double per_slow = 1.0;
            for (i64 i = 0; i < size;) {
                steps++;
                double dear = 1.0;
                if (row[SKILL] > 0) { double tired = 1.0 - w / w_prime; dear = 1.0 + row[SKILL] * tired * tired; }
                double rir = reserve(b, per_k, n) / dear;
                int tries = 0;
                while (rir < 1.0 - FAIL_SLACK_REPS) {
                    tries++;
                    if (tries == 1) shortfall += BREAK_MARGINS * margin;
                    if (!steady && u >= 1.0 && tries == 1) {
                        failed++;
                        t += FAIL_CYCLES * cycle;
                        for (int r = 0; r < n; r++) {
                            b[r] = fmax(0.0, b[r] - dear * k[r]);
                            f[r] += 2.0 * dear * left_f[r] * deep(b[r]);
                        }
                    }
                    double room = 1e9;
                    for (int r = 0; r < n; r++) if (k[r] > 0) room = fmin(room, ceiling(f[r]) / k[r]);
                    room /= dear;
                    if (u < 1.0 || tries > 60 || (room < 1.001 && deadline > LONG_S && tries > 3)) stuck = 1;
                    else if (room < 1.001) {
                        w = recover(20.0, b, f, n, w, w_prime, cp);
                        t += 20.0;
                        forced += 20.0;
                    } else {
                        double target = fmax(FAIL_READY_REPS, FAIL_READY_FRAC * room);
                        if (steady) target = FAIL_READY_REPS;
                        target = fmax(1.0005, fmin(target, 0.95 * room)) * dear;
                        double slow = 1.0 + TAU_SLOWING * (1.0 - w / w_prime), wait = 0.0;
                        for (int r = 0; r < n; r++) {
                            double need = target * k[r];
                            if (b[r] < need) {
                                double c = ceiling(f[r]);
                                wait = fmax(wait, TAU[r] * slow * log((c - b[r]) / fmax(c - need, 1e-9)));
                            }
                        }
                        if (!steady) wait = fmax(wait, FAIL_REST_S);
                        w = recover(wait, b, f, n, w, w_prime, cp);
                        t += wait;
                        forced += wait;
                    }
                    if (stuck || t >= deadline) { stop = 1; break; }
                    rir = reserve(b, per_k, n) / dear;
                }
                if (stop) {
                    finished = 0;
                    if (deadline < LONG_S) { found_stuck = t; t = deadline; }
                    break;
                }
                double hurry = pace;
                if (deadline - t <= CLOSING_S) hurry = rir >= GRIND_REPS ? row[FASTEST] : smaller(pace, 1.0);
                double rep_s = cycle * hurry;
                if (hurry < 1.0) dear *= 1.0 + HASTE_COST * (1.0 / hurry - 1.0);
                if (rir < GRIND_REPS) { double near = 1.0 - rir * (1.0 / GRIND_REPS); rep_s *= 1.0 + GRIND_SLOWING * near * near; }
                if (w < breath_j) {
                    double near = 1.0 - w * per_breath;
                    rep_s *= 1.0 + BREATH_SLOWING * near * near;
                }
                double work_j = kind == 0 ? coefficient
                              : kind == 1 ? coefficient / (rep_s * rep_s)
                                          : larger(0.0, (3600.0 - ERG_CAL_BASE_H * rep_s) * (1.0 / ERG_CAL_W));
                double drain_j = work_j - cp * rep_s;
                if (drain_j > w) {
                    rep_s = kind == 0 ? coefficient / cp
                          : kind == 1 ? cbrt(coefficient / cp)
                                      : 3600.0 / (ERG_CAL_W * cp + ERG_CAL_BASE_H);
                    drain_j = 0.0;
                }
                rep_s *= again;
                drain_j *= again;
                double trip_s = 0.0, p_trip = 0.0;
                if (row[TRIPS] > 0) {
                    double tired = 1.0 - w / w_prime;
                    p_trip = TRIP_REPS_FRAC / fmax(u, 1.0) * (1.0 + TRIP_BREATH * tired * tired);
                    trip_s = p_trip * (setup + TRIP_EXTRA_S);
                }
                if (t + rep_s + trip_s > deadline) {
                    partial = (deadline - t) / (rep_s + trip_s);
                    t = deadline;
                    finished = 0;
                    stop = 1;
                    break;
                }
                double fade = 1.0 - rep_s * (1.0 / FATIGUE_TAU_S);
                int m = 1;
                if (row[SKILL] == 0.0 && rir >= GRIND_REPS + 4.0 && size - i >= 4) {
                    m = rir >= GRIND_REPS + 8.0 && size - i >= 8 ? 8 : 4;
                    if (deadline - t < CLOSING_S + m * (rep_s + trip_s) || w - m * drain_j < breath_j) m = 1;
                }
                if (i >= refreshed + 8 || m > 1) {
                    refreshed = i;
                    per_slow = 1.0 / (1.0 + TAU_SLOWING * (1.0 - w * per_w_prime));
                    for (int r = 0; r < n; r++) {
                        double x = rep_s * per_slow * RATE[r];
                        top[r] = ceiling(f[r]);
                        gain[r] = open_[r] * RATE[r] / (12.0 + x * (6.0 + x));
                    }
                }
                double per_tau = rep_s * per_slow;
                if (m == 1) for (int r = 0; r < n; r++) {
                    double cost = dear * k[r], left = b[r] - cost;
                    left += larger(0.0, top[r] - left) * gain[r] * per_tau;
                    b[r] = larger(0.0, left);
                    f[r] = f[r] * fade + dear * left_f[r] * deep(b[r]);
                }
                else {
                    double power, terms, fade_power, fade_terms;
                    powers(fade, m, &fade_power, &fade_terms);
                    for (int r = 0; r < n; r++) {
                        double back = gain[r] * per_tau, q = 1.0 - back;
                        powers(q, m, &power, &terms);
                        double before = b[r];
                        b[r] = smaller(1.0, power * before + terms * (back * top[r] - q * dear * k[r]));
                        f[r] = fade_power * f[r] + fade_terms * dear * left_f[r] * deep(0.5 * (before + b[r]));
                    }
                }
                if (drain_j > 0.0) w = larger(0.0, w - m * drain_j);
                else {
                    double x = -m * drain_j * per_w_prime;
                    w += (w_prime - w) * 12.0 * x / (12.0 + x * (6.0 + x));
                }
                if (w < wear_j) {
                    wear += WEAR_PER_MIN / 60.0 * rep_s * (1.0 - w * per_wear);
                    cp = who[CP] * (1.0 - fmin(WEAR_MAX, wear));
                }
                t += m * (rep_s + trip_s);
                trips += m * p_trip;
                i += m;
                here += m;
            }
            begun += here;
            done = done_before + begun * counted / reps;
            double rir_end = reserve(b, per_k, n);
            if (!steady && here > 0 && !stop && deadline - t > LAST_PUSH_S && !(s == n_seg - 1 && begun >= reps))
                shortfall += fmax(0.0, margin - rir_end);
            if (stop) break;
        }
        if (stop && counted != reps) {
            double share = ((double)begun + partial) / (double)reps;
            partial = counted ? share * (double)counted - (double)(begun * counted / reps) : share;
        }
        if (stop) {
            if (!next || deadline > LONG_S) break;
            ahead = next;
            stop = stuck = 0;
            partial = 0;
            continue;
        }
        if (seg_i[s * N_SEG_I + TIE] > 0) { tie = t; tie_done = done; }
    }
    if (laps > 0) hot += larger(0.0, EVEN_FRAC * laps_s / laps - first_lap);
    out[O_TIME] = t;
    out[O_DONE] = (double)done;
    out[O_PARTIAL] = partial;
    out[O_FINISHED] = finished;
    out[O_FAILED] = (double)failed;
    out[O_FORCED_S] = forced;
    out[O_SHORTFALL] = shortfall;
    out[O_TIE_TIME] = tie;
    out[O_TIE_DONE] = tie_done;
    out[O_STUCK] = stuck ? (deadline > LONG_S ? t : found_stuck) : 0.0;
    out[O_N_TRIPS] = trips;
    out[O_WORK_LEFT] = w;
    out[O_REACHED] = (double)reached;
    out[O_STEPS] = (double)steps;
    out[O_HOT_S] = hot;
}

void simulate_many(const i64 *seg_i, const double *seg_f, i64 n_seg, const double *variants, i64 n_var, i64 n_col,
                   const double *us, const double *whos, i64 count, const i64 *choice_i, const double *choice_f,
                   const i64 *sizes, double *outs) {
    for (i64 j = 0; j < count; j++)
        simulate(seg_i, seg_f, n_seg, variants, n_col, us + j * n_var, whos + j * N_WHO, choice_i, choice_f, sizes, outs + j * N_OUT);
}
