package warden.standin.aws;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.w3c.dom.Element;
import org.w3c.dom.Node;
import org.xml.sax.SAXException;
import software.amazon.awssdk.core.SdkField;
import software.amazon.awssdk.core.SdkPojo;
import software.amazon.awssdk.core.protocol.MarshallingType;
import software.amazon.awssdk.core.traits.ListTrait;
import software.amazon.awssdk.core.traits.LocationTrait;
import software.amazon.awssdk.core.traits.XmlAttributeTrait;
import warden.core.document.Json;
import warden.standin.Refusal;

/** Reads what comes in as XML, and holds it as the command line prints it, by the client library's own model of the service. */
final class WireReading {
    private static final String SCHEMA_INSTANCE = "http://www.w3.org/2001/XMLSchema-instance";

    private WireReading() {}

    /**
     * Returns the members of a document's root.
     *
     * @param model of the root
     * @throws Refusal when it is no XML
     */
    static Map<String, Object> members(SdkPojo model, byte[] xml) {
        return members(model, root(xml));
    }

    /** Returns a document's root as JSON text. */
    static String json(SdkPojo model, byte[] xml) {
        return Json.text(members(model, xml));
    }

    private static Element root(byte[] xml) {
        try {
            DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
            factory.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
            factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            factory.setNamespaceAware(true);
            return factory.newDocumentBuilder()
                    .parse(new ByteArrayInputStream(xml))
                    .getDocumentElement();
        } catch (SAXException | IOException | ParserConfigurationException broken) {
            throw new Refusal(400, "MalformedXML", "The XML you provided was not well-formed");
        }
    }

    private static List<Element> children(Element parent) {
        List<Element> children = new ArrayList<>();
        for (Node node = parent.getFirstChild(); node != null; node = node.getNextSibling()) {
            if (node instanceof Element element) {
                children.add(element);
            }
        }
        return children;
    }

    private static List<Element> named(Element parent, String name) {
        return children(parent).stream()
                .filter(child -> child.getLocalName().equals(name))
                .toList();
    }

    private static Map<String, Object> members(SdkPojo model, Element element) {
        Map<String, Object> members = new LinkedHashMap<>();
        for (SdkField<?> field : model.sdkFields()) {
            String name = field.getTrait(LocationTrait.class).unmarshallLocationName();
            if (field.containsTrait(XmlAttributeTrait.class)) {
                String plain = name.substring(name.indexOf(':') + 1);
                if (element.hasAttributeNS(SCHEMA_INSTANCE, plain)) {
                    members.put(field.memberName(), element.getAttributeNS(SCHEMA_INSTANCE, plain));
                }
                continue;
            }
            List<Element> there = named(element, name);
            if (!there.isEmpty()) {
                members.put(field.memberName(), value(field, there));
            }
        }
        return members;
    }

    private static Object value(SdkField<?> field, List<Element> elements) {
        if (field.containsTrait(ListTrait.class)) {
            ListTrait trait = field.getTrait(ListTrait.class);
            SdkField<?> item = trait.memberFieldInfo();
            List<Element> items = trait.isFlattened() ? elements : children(elements.get(0));
            return items.stream().map(each -> value(item, List.of(each))).toList();
        }
        Element element = elements.get(0);
        if (field.marshallingType() == MarshallingType.SDK_POJO) {
            return members((SdkPojo) field.constructor().get(), element);
        }
        String text = element.getTextContent();
        if (field.marshallingType() == MarshallingType.BOOLEAN) {
            return Boolean.parseBoolean(text.strip());
        }
        boolean isNumber = field.marshallingType() == MarshallingType.INTEGER
                || field.marshallingType() == MarshallingType.LONG
                || field.marshallingType() == MarshallingType.DOUBLE
                || field.marshallingType() == MarshallingType.FLOAT;
        return isNumber && text.strip().matches("-?[0-9]+(\\.[0-9]+)?") ? new Json.Raw(text.strip()) : text;
    }
}
