import sanitizeHtml from 'sanitize-html'

const pictures = new Set(['image/png', 'image/jpeg', 'image/gif', 'image/webp'])

/** HTML of a letter as it may be shown: no scripts, no styles that reach out, no pictures but its own. */
export function safeHtml({
  html,
  parts,
  prefix,
}: {
  html: string
  parts: readonly { contentId: string | null; mediaType: string }[]
  prefix: string
}): { html: string; blocked: number } {
  let blocked = 0
  const clean = sanitizeHtml(html.slice(0, 1_000_000), {
    allowedTags: [
      'p',
      'br',
      'div',
      'span',
      'b',
      'strong',
      'i',
      'em',
      'u',
      's',
      'sub',
      'sup',
      'ul',
      'ol',
      'li',
      'blockquote',
      'pre',
      'code',
      'h1',
      'h2',
      'h3',
      'h4',
      'h5',
      'h6',
      'hr',
      'table',
      'thead',
      'tbody',
      'tfoot',
      'tr',
      'td',
      'th',
      'caption',
      'a',
      'img',
      'font',
      'center',
      'small',
      'big',
    ],
    allowedAttributes: {
      a: ['href', 'title', 'rel', 'target'],
      img: ['src', 'alt', 'width', 'height'],
      td: ['colspan', 'rowspan', 'align'],
      th: ['colspan', 'rowspan', 'align'],
    },
    allowedSchemes: ['http', 'https', 'mailto', 'tel'],
    allowedSchemesByTag: { img: ['cid', 'data'] },
    allowProtocolRelative: false,
    nestingLimit: 100,
    transformTags: {
      a: (_tag, attribs) => ({
        tagName: 'a',
        attribs: { href: attribs['href'] ?? '', rel: 'noopener noreferrer nofollow', target: '_blank' },
      }),
      img: (_tag, attribs) => {
        const src = attribs['src'] ?? ''
        const index = src.toLowerCase().startsWith('cid:')
          ? parts.findIndex((p) => p.contentId === decodeURIComponent(src.slice(4)) && pictures.has(p.mediaType))
          : -1
        if (index === -1) blocked += 1
        const kept: Record<string, string> =
          index === -1 ? { alt: attribs['alt'] || '[picture not loaded]' } : { src: `${prefix}${index}`, alt: attribs['alt'] ?? '' }
        return { tagName: 'img', attribs: kept }
      },
    },
    allowedClasses: {},
    exclusiveFilter: (frame) => frame.tag === 'img' && !frame.attribs['src'] && !frame.attribs['alt'],
  })
  return { html: clean, blocked }
}
