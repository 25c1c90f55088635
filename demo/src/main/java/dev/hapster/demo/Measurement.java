package dev.hapster.demo;

import java.time.LocalDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/** One invented measurement, plausible for a river. */
record Measurement(int station, LocalDateTime taken, String parameter, double value, String unit) {

    static final List<String> PARAMETERS = List.of("nitrate", "phosphate", "turbidity", "ph");
    private static final List<String> UNITS = List.of("mg/l", "mg/l", "NTU", "");
    private static final double[] MIDDLE = {18, 0.4, 12, 7.6};
    private static final double[] SPREAD = {6, 0.15, 7, 0.35};
    private static final int STATIONS = 24;

    /** @param ordinal decides station and parameter; time and value are drawn */
    static Measurement draw(Random random, LocalDateTime month, int ordinal) {
        int parameter = ordinal % PARAMETERS.size();
        int station = 1 + ordinal / PARAMETERS.size() % STATIONS;
        LocalDateTime taken = month.plusMinutes(random.nextInt(28 * 24 * 60 / 5) * 5L);
        double season = Math.cos((taken.getDayOfYear() - 20) / 365.0 * 2 * Math.PI)
                * (parameter == 3 ? -0.2 : 0.3 * MIDDLE[parameter]);
        double value = Math.max(0.01, MIDDLE[parameter] + season + random.nextGaussian() * SPREAD[parameter]);
        return new Measurement(station, taken, PARAMETERS.get(parameter), value, UNITS.get(parameter));
    }

    String stationCode() {
        return String.format(Locale.ROOT, "VS-%03d", station);
    }

    String valueText() {
        return String.format(Locale.ROOT, parameter.equals("ph") ? "%.2f" : "%.3f", value);
    }
}
