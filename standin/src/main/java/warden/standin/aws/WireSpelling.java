package warden.standin.aws;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Map;
import java.util.Optional;
import software.amazon.awssdk.core.SdkField;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.core.protocol.MarshallLocation;
import software.amazon.awssdk.core.protocol.MarshallingType;
import software.amazon.awssdk.core.traits.ListTrait;
import software.amazon.awssdk.core.traits.LocationTrait;
import software.amazon.awssdk.core.traits.MapTrait;
import software.amazon.awssdk.core.traits.PayloadTrait;
import software.amazon.awssdk.core.traits.XmlAttributeTrait;
import warden.core.document.JsonPart;
import warden.core.document.JsonPart.JsonArray;
import warden.core.document.JsonPart.JsonObject;
import warden.core.document.JsonPart.JsonText;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.standin.HttpDate;
import warden.standin.XmlText;

/**
 * Spells an answer, held as the command line prints it, as it goes over the wire: as XML or as JSON, with the names and places that the
 * client library's own model of the service gives its members.
 */
final class WireSpelling {
    private WireSpelling() {}

    /** Returns the members of {@code answer} as XML elements, without a root. */
    static String xml(SdkPojo model, JsonPart answer) {
        return XmlText.elements(xml -> members(model, answer, xml));
    }

    /** Returns the one member that is the whole body, as an element of its own name; absent when the members are the body. */
    static Optional<String> xmlPayload(SdkPojo model, JsonPart answer) {
        for (SdkField<?> field : model.sdkFields()) {
            if (field.containsTrait(PayloadTrait.class)) {
                return Optional.of(XmlText.elements(xml ->
                        answer.find(field.memberName()).ifPresent(part -> element(name(field), field, part, xml))));
            }
        }
        return Optional.empty();
    }

    /** Puts the members that travel in headers into {@code headers}. */
    static void headers(SdkPojo model, JsonPart answer, Map<String, String> headers) {
        for (SdkField<?> field : model.sdkFields()) {
            if (field.location() == MarshallLocation.HEADER) {
                answer.find(field.memberName()).ifPresent(part -> {
                    if (part instanceof JsonObject map) {
                        map.members().forEach((key, value) -> value.scalar()
                                .ifPresent(text -> headers.put(name(field) + key, text)));
                    } else {
                        part.scalar()
                                .ifPresent(text -> headers.put(name(field), isTime(field) ? inHeaders(text) : text));
                    }
                });
            }
        }
    }

    private static String name(SdkField<?> field) {
        return field.getTrait(LocationTrait.class).unmarshallLocationName();
    }

    private static boolean isTime(SdkField<?> field) {
        return field.marshallingType() == MarshallingType.INSTANT;
    }

    private static void members(SdkPojo model, JsonPart object, XmlText xml) {
        for (SdkField<?> field : model.sdkFields()) {
            boolean inBody =
                    field.location() == MarshallLocation.PAYLOAD && !field.containsTrait(XmlAttributeTrait.class);
            Optional<JsonPart> value = inBody ? object.find(field.memberName()) : Optional.empty();
            value.ifPresent(part -> element(name(field), field, part, xml));
        }
    }

    private static void element(String name, SdkField<?> field, JsonPart value, XmlText xml) {
        if (value instanceof JsonArray list && field.containsTrait(ListTrait.class)) {
            ListTrait trait = field.getTrait(ListTrait.class);
            SdkField<?> item = trait.memberFieldInfo();
            if (trait.isFlattened()) {
                list.items().forEach(part -> element(name, item, part, xml));
                return;
            }
            String itemName = trait.memberLocationName() == null ? "member" : trait.memberLocationName();
            xml.element(name, inner -> list.items().forEach(part -> element(itemName, item, part, inner)));
            return;
        }
        if (value instanceof JsonObject map && field.containsTrait(MapTrait.class)) {
            xml.element(name, inner -> map.members()
                    .forEach((key, part) -> inner.element("entry", entry -> entry.text("key", key)
                            .text("value", part.scalar().orElse("")))));
            return;
        }
        if (value instanceof JsonObject && field.marshallingType() == MarshallingType.SDK_POJO) {
            SdkPojo model = (SdkPojo) field.constructor().get();
            Optional<String> type = type(model, value);
            if (type.isPresent()) {
                xml.typed(name, type.get(), inner -> members(model, value, inner));
            } else {
                xml.element(name, inner -> members(model, value, inner));
            }
            return;
        }
        String text = value.scalar().orElseGet(() -> encodedPolicy(value));
        xml.text(name, isTime(field) ? inBody(text) : text);
    }

    /** Returns what stands as an attribute: of the services that are simulated, the type of a grantee only. */
    private static Optional<String> type(SdkPojo model, JsonPart object) {
        return model.sdkFields().stream()
                .filter(field -> field.containsTrait(XmlAttributeTrait.class))
                .flatMap(field -> object.text(field.memberName()).stream())
                .findFirst();
    }

    /** Policies inside identities travel percent-encoded. */
    private static String encodedPolicy(JsonPart policy) {
        return URLEncoder.encode(JsonSpelling.of(policy), StandardCharsets.UTF_8)
                .replace("+", "%20");
    }

    /** Returns the answer as the JSON of a JSON protocol. */
    static String json(SdkPojo model, JsonPart answer) {
        return JsonSpelling.of(jsonObject(model, answer));
    }

    private static JsonPart jsonObject(SdkPojo model, JsonPart object) {
        Map<String, JsonPart> members = new java.util.LinkedHashMap<>();
        for (SdkField<?> field : model.sdkFields()) {
            object.find(field.memberName()).ifPresent(part -> members.put(name(field), jsonValue(field, part)));
        }
        return new JsonObject(object.at(), members);
    }

    private static JsonPart jsonValue(SdkField<?> field, JsonPart value) {
        if (value instanceof JsonArray list && field.containsTrait(ListTrait.class)) {
            SdkField<?> item = field.getTrait(ListTrait.class).memberFieldInfo();
            return new JsonArray(
                    list.at(),
                    list.items().stream().map(part -> jsonValue(item, part)).toList());
        }
        if (value instanceof JsonObject && field.marshallingType() == MarshallingType.SDK_POJO) {
            return jsonObject((SdkPojo) field.constructor().get(), value);
        }
        if (isTime(field)) {
            return value.scalar()
                    .flatMap(WireSpelling::time)
                    .<JsonPart>map(time -> new JsonPart.JsonNumber(value.at(), Long.toString(time.toEpochSecond())))
                    .orElse(value);
        }
        return value instanceof JsonObject && !field.containsTrait(MapTrait.class)
                ? new JsonText(Pointer.ROOT, JsonSpelling.of(value))
                : value;
    }

    private static Optional<OffsetDateTime> time(String text) {
        try {
            return Optional.of(OffsetDateTime.parse(text));
        } catch (DateTimeException strange) {
            return Optional.empty();
        }
    }

    private static String inBody(String text) {
        return time(text)
                .map(time -> time.withOffsetSameInstant(ZoneOffset.UTC).format(DateTimeFormatter.ISO_OFFSET_DATE_TIME))
                .orElse(text);
    }

    /** Returns a time as headers spell it; what is none stays as it is. */
    static String inHeaders(String text) {
        return time(text).map(time -> HttpDate.spelled(time.toInstant())).orElse(text);
    }
}
