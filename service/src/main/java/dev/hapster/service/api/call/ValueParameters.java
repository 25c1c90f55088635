package dev.hapster.service.api.call;

import jakarta.ws.rs.BadRequestException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Values that a caller gives. */
public final class ValueParameters {

    private ValueParameters() {}

    /** Values given with an address, each as {@code name=value}. */
    public static Map<String, String> inAddress(List<String> set) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String one : set) {
            int equals = one.indexOf('=');
            if (equals < 1) {
                throw new BadRequestException("'" + one + "' gives no value; write name=value");
            }
            values.put(one.substring(0, equals), one.substring(equals + 1));
        }
        return values;
    }

    public static Map<String, String> orNone(Map<String, String> values) {
        return values == null ? Map.of() : values;
    }
}
