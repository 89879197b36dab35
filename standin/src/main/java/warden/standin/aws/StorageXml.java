package warden.standin.aws;

import java.util.function.Consumer;
import warden.standin.Reply;
import warden.standin.XmlText;

/** The storage service's documents. */
final class StorageXml {
    static final String SPACE = "http://s3.amazonaws.com/doc/2006-03-01/";

    private StorageXml() {}

    static Reply reply(String root, Consumer<XmlText> content) {
        return Reply.xml(200, XmlText.of(root, SPACE, content));
    }
}
