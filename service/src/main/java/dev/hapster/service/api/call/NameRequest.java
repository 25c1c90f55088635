package dev.hapster.service.api.call;

import jakarta.ws.rs.BadRequestException;

/** @param name that something is to have */
public record NameRequest(String name) {

    /** The name, which must be there. */
    public static String of(NameRequest request) {
        if (request == null || request.name() == null || request.name().isBlank()) {
            throw new BadRequestException("The field 'name' is missing: the new name");
        }
        return request.name().strip();
    }
}
