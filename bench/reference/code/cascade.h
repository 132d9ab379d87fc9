/* The winch's depth and speed controllers, as somebody would write them by hand. */
typedef struct { double depth_i, speed_i; } cascade_state;
typedef struct { double drum_r, gear, torque_max, v_max; } cascade_gains;
void cascade_start(cascade_state *s, double weight, const cascade_gains *g);
double cascade_step(cascade_state *s, const cascade_gains *g, double wanted, double depth, double speed);
