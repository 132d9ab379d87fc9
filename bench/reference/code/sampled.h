/* The crane's sampled speed controller, as somebody would write it by hand. */
typedef struct { double i; } sampled_state;
void sampled_start(sampled_state *s);
double sampled_step(sampled_state *s, double r, double y);
